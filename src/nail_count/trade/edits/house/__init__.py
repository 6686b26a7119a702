"""The edits a person makes to a house: its panel, its rooms, its boxes."""
