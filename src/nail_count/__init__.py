"""Count what goes into a switch box, derate its devices, add up its loads, and plan the job around it."""

__version__ = "0.1.0"
