"""Show all jobs; bring files in; make backups."""
