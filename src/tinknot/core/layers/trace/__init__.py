"""Layers of heat-trace connections."""
