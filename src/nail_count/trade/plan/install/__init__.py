"""The steps of one box on the ladder, from its own plan, and how far they have come."""
