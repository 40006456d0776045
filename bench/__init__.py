"""Measured promises, as JSON; ratios are taken in one run."""
