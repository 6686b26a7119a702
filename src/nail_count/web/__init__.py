"""The web application: a route parses, calls, renders."""
