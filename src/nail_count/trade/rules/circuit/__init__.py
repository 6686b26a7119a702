"""Judge everything a breaker feeds, and what the panel shows."""
