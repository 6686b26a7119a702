"""The changes a person makes to a house: its panel, its rooms, which boxes it has."""
