"""Tell conductors apart, and practice it."""
