"""One box, and every act on it."""
