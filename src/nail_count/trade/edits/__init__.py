"""The changes a person makes to a box: (box, what) → a new box and one sentence for the history."""
