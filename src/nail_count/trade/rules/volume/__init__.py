"""Count the contents of a box by the code, against its volume."""
