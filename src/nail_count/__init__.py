"""Nail Count: what goes into a switch box, counted, derated and added up."""

__version__ = "0.1.0"
