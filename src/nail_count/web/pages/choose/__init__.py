"""What can go into a gang."""
