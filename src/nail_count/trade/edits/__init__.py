"""The edits a person makes to a box. Each is a value that makes a new box and a sentence for the history."""
