"""Show what joins what in a box: proposed, tried, proven, measured."""
