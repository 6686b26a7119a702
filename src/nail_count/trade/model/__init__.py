"""What things are. Frozen values: an edit makes another."""
