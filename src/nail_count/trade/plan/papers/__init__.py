"""Make the papers of a house: inspector's sheet, handover, as built, notes, labels, panel directory, wiring map."""
