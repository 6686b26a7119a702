"""Choose what goes into a gang."""
