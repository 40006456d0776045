"""Tin Knot: measuring, choosing, building and recording heat-shrink cable joints."""

__version__ = "0.1.0"
