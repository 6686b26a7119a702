"""For programs: everything the pages do, as JSON, by the same edit values."""
