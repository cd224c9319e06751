"""Reading and writing parts in open formats."""
