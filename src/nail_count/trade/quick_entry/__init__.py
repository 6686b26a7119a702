"""A whole box in one line of text: read into edits, written back."""
