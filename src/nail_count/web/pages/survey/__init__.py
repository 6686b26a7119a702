"""What to look at, on a ladder; the breaker that feeds a box."""
