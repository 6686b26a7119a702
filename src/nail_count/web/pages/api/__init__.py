"""For programs: jobs as files, checks as data."""
