"""Everything a breaker feeds, and what the panel shows."""
