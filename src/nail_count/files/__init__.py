"""Open formats, in and out. Knows trade."""
