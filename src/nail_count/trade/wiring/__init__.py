"""Tell wires apart, hook devices up, prove it, and simulate a house to practice on."""
