"""The loops that every cut of a large part runs through, compiled. They are plain Python to read.

`cutcore.warm` calls them once, for set-up and server start.
"""

from cutcore.kernels.edge_faces import faces_of_edges, split_ends
from cutcore.kernels.halves import chain_slots, lay_rows, order_paths
from cutcore.kernels.planes import crossings_between, ranks_of, segments_between, short_segments, sides_and_crossed
from cutcore.kernels.rims import places_on_edges, rim_rows, rim_uv
from cutcore.kernels.rows import splice_rows
from cutcore.kernels.walks import border_gaps, face_boxes, walk_stretches

__all__ = [
    "border_gaps",
    "chain_slots",
    "crossings_between",
    "face_boxes",
    "faces_of_edges",
    "lay_rows",
    "order_paths",
    "places_on_edges",
    "ranks_of",
    "rim_rows",
    "rim_uv",
    "segments_between",
    "short_segments",
    "sides_and_crossed",
    "splice_rows",
    "split_ends",
    "walk_stretches",
]
