"""Make the demo house that ships with the program."""
