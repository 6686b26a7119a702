"""The parts and tools of a house: what to buy, what for, ticked as it is bought, loaded, used, given back."""
