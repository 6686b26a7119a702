"""Earlier states of a box, and the way back."""
