"""Print plate labels and sheets."""
