"""Knife line: from point to point over all the faces that lie between."""
