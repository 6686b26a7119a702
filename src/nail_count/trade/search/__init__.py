"""Searches among edits: the best order, the smallest box, the smallest change that holds."""
