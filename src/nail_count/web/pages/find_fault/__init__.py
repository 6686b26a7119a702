"""It does not work: what is seen, the reading that splits its causes best, the cause."""
