"""Enter where a cable goes."""
