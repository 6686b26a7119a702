"""The heart: the job's things and rules. No web, no database, no files."""
