"""Show what would make boxes hold, side by side; for a whole house in one search; prices and the quote."""
