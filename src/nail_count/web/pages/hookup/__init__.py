"""What joins what in a box: proposed, thrown, proven, measured."""
