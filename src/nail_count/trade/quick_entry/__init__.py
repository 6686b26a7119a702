"""Read a whole box from one line of text into edits, and write it back."""
