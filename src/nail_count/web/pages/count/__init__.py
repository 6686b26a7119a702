"""Show the count under another code, and the smallest box that holds."""
