"""Simulate the outside world: hidden wiring, a meter, a relay, a hub. Knows nothing of the rest."""
