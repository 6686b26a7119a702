"""Show the papers of a house, each as a screen, a print and a PDF."""
