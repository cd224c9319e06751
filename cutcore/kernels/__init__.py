"""The loops that every cut of a large part runs through, compiled. They are plain Python to read.

`cutcore.warm` calls them once, for set-up and server start.
"""

from cutcore.kernels.adjacent_rows import rows_beside
from cutcore.kernels.chains import chain_slots, lay_rows, order_paths, pieces_of_paths
from cutcore.kernels.collars import ease_collar
from cutcore.kernels.combs import comb_rows
from cutcore.kernels.crossed import askew_rows, convex_faces, crossed_rows, repeating_rows
from cutcore.kernels.edge_faces import faces_of_edges, split_ends
from cutcore.kernels.evening import (
    ON_LINE,
    ON_SEGMENT,
    ON_SURFACE,
    STAYS,
    even_out,
    nearest_round_all,
    relax,
)
from cutcore.kernels.geodesics import straighten, strip_along, vertex_way
from cutcore.kernels.grown_fans import grow_fans
from cutcore.kernels.judged import unsound_rows, wrong_sides
from cutcore.kernels.onward_ways import cheapest_onward, nearest_on_line
from cutcore.kernels.parity_ways import BORDER, cheapest_ways
from cutcore.kernels.plane_walks import walk_plane
from cutcore.kernels.planes import (
    crossings_between,
    pairs_in_faces,
    ranks_of,
    reach_along,
    segments_between,
    sides_and_crossed,
    thin_corners,
)
from cutcore.kernels.polygons import inside_polygon
from cutcore.kernels.quad_chords import (
    bettered,
    cost_of,
    cost_of_all,
    form_of,
    open_chords,
    quads_by_chords,
)
from cutcore.kernels.ragged import list_rows, list_values
from cutcore.kernels.rims import rim_rows, rim_uv
from cutcore.kernels.rows import spliced_rows
from cutcore.kernels.same_rows import name_equal_rows
from cutcore.kernels.shortest import FOUND, GIVEN_UP, shortest_way, triangles_at
from cutcore.kernels.walks import border_gaps, convex_normal, face_boxes, walk_stretches

__all__ = [
    "BORDER",
    "FOUND",
    "GIVEN_UP",
    "ON_LINE",
    "ON_SEGMENT",
    "ON_SURFACE",
    "STAYS",
    "askew_rows",
    "bettered",
    "border_gaps",
    "chain_slots",
    "cheapest_onward",
    "cheapest_ways",
    "comb_rows",
    "convex_faces",
    "convex_normal",
    "cost_of",
    "cost_of_all",
    "crossed_rows",
    "crossings_between",
    "ease_collar",
    "even_out",
    "face_boxes",
    "faces_of_edges",
    "form_of",
    "grow_fans",
    "inside_polygon",
    "lay_rows",
    "list_rows",
    "list_values",
    "name_equal_rows",
    "nearest_on_line",
    "nearest_round_all",
    "open_chords",
    "order_paths",
    "pairs_in_faces",
    "pieces_of_paths",
    "quads_by_chords",
    "ranks_of",
    "reach_along",
    "relax",
    "repeating_rows",
    "rim_rows",
    "rim_uv",
    "rows_beside",
    "segments_between",
    "shortest_way",
    "sides_and_crossed",
    "spliced_rows",
    "split_ends",
    "straighten",
    "strip_along",
    "thin_corners",
    "triangles_at",
    "unsound_rows",
    "vertex_way",
    "walk_plane",
    "walk_stretches",
    "wrong_sides",
]
