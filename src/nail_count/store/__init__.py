"""What is kept, in SQLite through SQLAlchemy. Knows trade."""
