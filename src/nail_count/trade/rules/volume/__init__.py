"""Count what is in a box by the code, against its volume."""
