"""Count what to buy, carry and give back over the whole house: as found against as planned."""
