"""Show the boxes of a job."""
