"""Boxes from a table and breakers from a directory, row by row, each as one act."""
