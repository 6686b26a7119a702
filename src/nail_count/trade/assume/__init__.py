"""Assume what is usual where nobody has entered it, name it, and say what settles it at the box."""
