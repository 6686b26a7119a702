"""What follows from a house as planned: for now, which lamps may be fitted where."""
