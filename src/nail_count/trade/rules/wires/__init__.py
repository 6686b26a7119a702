"""What readings prove of a conductor, and what is to be believed of the neutral."""
