"""The wiring of a house on one map."""
