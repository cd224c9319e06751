"""Woven: the grid of a part bends to a line, so that its faces stay quads."""
