"""Work out where things lie on a drawing. Templates turn it into SVG."""
