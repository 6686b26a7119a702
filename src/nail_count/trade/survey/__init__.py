"""List what to look at: at a box, at the panel, on a datasheet."""
