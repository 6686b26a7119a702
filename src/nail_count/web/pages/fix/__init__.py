"""What would make boxes hold: beside each other for one box, in one run for a house; prices; the quote."""
