"""Practice on made-up boxes: tell wires apart, hook up, find a fault, plan a crowded one; with a score."""
