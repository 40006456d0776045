"""Layers of a joint: one contract, one module a kind."""
