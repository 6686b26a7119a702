"""The made-up house that ships."""
