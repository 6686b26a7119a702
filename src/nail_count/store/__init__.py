"""Keep jobs in SQLite through SQLAlchemy, as revisions that are never overwritten."""
