"""Simple closed and open shapes to begin with."""
