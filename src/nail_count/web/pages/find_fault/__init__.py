"""Find what is wrong: what is seen, the next reading, the cause."""
