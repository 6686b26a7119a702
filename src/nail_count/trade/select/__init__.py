"""List what can go in a gang, with every reason for and against."""
