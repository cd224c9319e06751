"""Outlines: shapes on a sheet, made apart from any part, to be projected onto one."""
