"""Devices of a box brought into use: each by its sheet, with the simulated hub, step by step."""
