"""Outline: curves projected onto the part."""
