"""What people want of a place."""
