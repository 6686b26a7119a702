"""Find why something doesn't work, from what people see: causes, and the checks that tell them apart."""
