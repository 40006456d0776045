"""Instruments as small interfaces, each with a simulated stand-in."""
