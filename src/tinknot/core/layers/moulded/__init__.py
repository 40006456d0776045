"""Moulded parts and what makes them tight."""
