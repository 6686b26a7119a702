"""Cautions, licenses, the trade's words."""
