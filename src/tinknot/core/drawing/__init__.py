"""Drawings of joints: their model, where a part lies as it is drawn, and the one loop that draws them all."""
