"""Records as papers: the inspector's sheet, the handover, the hook-up as built, notes, labels, the panel directory."""
