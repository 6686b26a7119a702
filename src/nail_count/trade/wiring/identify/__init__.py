"""Tell conductors apart: what a cable can be, what a reading shows, what follows, what to read next."""
