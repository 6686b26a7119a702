"""Show how far a house is, box by box and in all."""
