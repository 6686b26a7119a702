"""The outside world, made up: hidden wiring, a meter, a relay that measures; knows nothing of the rest."""
