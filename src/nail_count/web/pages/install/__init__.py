"""Show one box on the ladder: a step at a time, large, ticked with its time and who."""
