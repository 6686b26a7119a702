"""The edits themselves, by what they change; `trade/edits.py` lists them by name."""
