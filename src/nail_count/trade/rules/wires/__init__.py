"""Tell what readings prove of a conductor, and what holds of the neutral."""
