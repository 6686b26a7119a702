"""Bring the devices of a box into use, each by its sheet, with the simulated hub."""
