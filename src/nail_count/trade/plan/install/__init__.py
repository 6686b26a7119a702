"""Make the steps of one box on the ladder from its plan, and tell how far they are."""
