"""Search among edits: the best order, the smallest box, the least work after which a box holds."""
