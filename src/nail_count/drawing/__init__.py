"""Where things lie on a view. Knows trade; templates turn it into SVG."""
