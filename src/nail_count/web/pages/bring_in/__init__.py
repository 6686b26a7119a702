"""Bring in boxes from a table and breakers from a directory, row by row."""
