"""Bring devices into use: join the hub, name, update, set, try each in every way it must work, compare watts."""
