"""Show what to look at, on a ladder."""
