"""Formats of what is stored, with their numbers and the upgrades between them."""
