"""The pages: a route parses, calls, renders."""
