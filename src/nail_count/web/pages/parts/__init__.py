"""Show parts and tools: what to buy and why, ticked as it is bought, loaded, put in, given back."""
