"""How far a house has come, box by box and in all."""
