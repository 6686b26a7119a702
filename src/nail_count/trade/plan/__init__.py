"""Plan the work of a house: parts, tools, days, steps on the ladder, commissioning, papers, progress."""
