"""The mesh, its tables, what an operation gives back, and what has changed in one."""
