"""Take a hook-up as a network of wires and contacts: propose it, prove it in every state, say what to measure."""
