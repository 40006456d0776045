"""A joint: two cable ends, what was measured, and the profile everything is drawn and chosen from."""
