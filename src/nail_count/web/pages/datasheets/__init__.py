"""Show and edit the datasheets of a job."""
