"""Conductors told apart: what each may be, what the next reading should be, and a simulated house to practice on."""
