"""The breaker that feeds a box, found step by step."""
