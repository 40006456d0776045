"""Recipes: one small module a family turns a card with its measurements into a stack of layers."""
