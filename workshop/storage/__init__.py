"""The database itself, whatever is kept in it: reading it in one piece, its room on the disk,
safety copies."""
