"""Show cautions, licenses and the trade's words."""
