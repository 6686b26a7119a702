"""Devices brought into use: joined, named, updated, set, tried in every way they must work, weighed."""
