"""Ask what people want of a place."""
