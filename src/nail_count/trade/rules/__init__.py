"""What follows from things. Each rule: things in, one answer out."""
