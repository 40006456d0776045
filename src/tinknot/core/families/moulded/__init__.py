"""Moulded parts chosen with what makes them tight, for every family that puts one on."""
