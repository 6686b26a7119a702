"""The count looked at otherwise, and the stock list."""
