"""Drills: what a workshop has to live through, rehearsed on the real thing. `make drills` runs them
all."""
