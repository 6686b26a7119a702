"""What joins what: the hook-up as a network of wires and contacts, proposed, proven in every state, and measured."""
