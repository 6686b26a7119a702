"""Name the one thing to do next at a box, on every screen of it."""
