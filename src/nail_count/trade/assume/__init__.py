"""Assume usual wiring where nobody has entered it, name each assumption, and say how to check it at the box."""
