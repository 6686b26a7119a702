"""Find the breaker that feeds a box, step by step."""
