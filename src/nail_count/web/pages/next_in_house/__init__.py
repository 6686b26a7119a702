"""Name the one thing to do next in a house, on every page of it."""
