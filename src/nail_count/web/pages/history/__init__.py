"""Show earlier states of a box, and the way back to each."""
