"""Geometry that knows no mesh."""
