"""Every address there is, from one place."""
