"""Conductors told apart, and practice."""
