"""Show one box, with every act on it."""
