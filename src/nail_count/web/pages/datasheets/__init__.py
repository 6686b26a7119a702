"""The datasheets of a job, and their editor."""
