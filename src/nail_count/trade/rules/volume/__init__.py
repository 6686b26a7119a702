"""How much is in a box, counted by the code: every conductor, device and clamp against its volume."""
