"""Picking: which vertices, edges or faces a person means. Edges are numbered as the mesh numbers
them."""
