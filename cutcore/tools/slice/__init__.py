"""Slice: planes right through the part, and what becomes of the sides."""
