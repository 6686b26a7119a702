"""Show the wiring of a house on one map."""
