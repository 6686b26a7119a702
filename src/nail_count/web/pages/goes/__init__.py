"""Where a cable goes."""
