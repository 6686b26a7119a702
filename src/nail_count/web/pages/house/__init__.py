"""The boxes of a job."""
