"""Practice on made-up boxes: telling wires apart, hooking up, finding a fault, planning a crowded one; with a score."""
