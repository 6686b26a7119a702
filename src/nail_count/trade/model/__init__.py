"""The things of a job: boxes, cables, devices, loads, breakers. Frozen values; an edit makes another."""
