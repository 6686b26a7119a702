"""What can go there, with every reason for and against."""
