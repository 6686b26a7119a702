"""The things and rules of the trade. No web, no database, no files."""
