"""What a trace makes of the faces it touches, before anything is copied.

1. Anchors on edges become vertices, one for each place of an edge, keyed by edge and share.
2. Every face at such an edge gets the vertex on its border: no T-junction can arise.
3. A face crossed by one span from border to border is split in two, all such faces at once.
4. Any other face with spans is worked out on its own (`arrangement`).

Corners of the new faces are written down as *sources*: a place in the table of borders (`Rim`), or
-1-k for the k-th new vertex inside a face. Vertex numbers and texture places are read off at the end.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.arrays import Floats, Ints, distinct, found_in, next_in_row, row_positions, starts_of
from cutcore.imprint.arrangement import FaceLines, arrange
from cutcore.imprint.rim import Rim, vertices_on_edges
from cutcore.imprint.weights import interpolate_inside
from cutcore.mesh import Mesh, newell
from cutcore.trace import IN_FACE, Trace


@dataclass(frozen=True, eq=False)
class Subdivision:
    """New vertices and the children of touched faces.

    places        (N, 3) new vertices; they are numbered after the old ones, in this order
    split_edges   (M,)   edges with new vertices on them, ascending
    split_starts  (M+1,) which of the new vertices lie on each, from its lower vertex up
    faces         (T,)   touched faces, ascending
    loops         ragged children: vertices by `loop_starts (L+1,)`; the first T rows are the children that
                  keep their parent's number, in the order of `faces`
    loop_uv       (.., 2) texture places of the loops' corners, or None
    extra_parents (L-T,) the face each further child lies in
    new_edges     (K, 2) new edges inside faces, as vertex pairs, lower first
    """

    places: Floats
    split_edges: Ints
    split_starts: Ints
    faces: Ints
    loops: Ints
    loop_starts: Ints
    loop_uv: Floats | None
    extra_parents: Ints
    new_edges: Ints

    @property
    def adds_nothing(self) -> bool:
        return len(self.places) == 0 and len(self.extra_parents) == 0


@dataclass(frozen=True, eq=False)
class _Children:
    """Some children as sources in ragged rows; `row` is the touched face each belongs to."""

    row: Ints
    source: Ints
    starts: Ints


def subdivide(mesh: Mesh, trace: Trace, *, weld: float) -> Subdivision:
    """The new vertices and faces that a trace makes. Raises ImprintError for a face it can't be laid into."""
    crossings = vertices_on_edges(mesh, trace, weld=weld)
    ends, face = trace.ends[trace.cut], trace.face[trace.cut]
    touched = distinct(np.concatenate([face, mesh.edges.face_pairs(crossings.edges)[1]]))
    rim = Rim.of(mesh, touched, crossings)

    row = np.searchsorted(touched, face)
    count = np.bincount(row, minlength=len(touched))
    alone = (trace.kind[ends] != IN_FACE).all(axis=1) & (count[row] == 1)
    split, keeping, further, chords = _halves(rim, row[alone], crossings.vertex[ends[alone]], weld)

    slow = distinct(row)
    slow = slow[~found_in(slow, distinct(split))]
    worked = [_arranged(mesh, trace, rim, r, ends[row == r], crossings.vertex, weld) for r in slow.tolist()]
    inside_places, slow_keeping, slow_further, slow_edges = _numbered(mesh, rim, worked, slow, len(crossings.places))

    untouched = np.flatnonzero(count == 0)
    at, starts = row_positions(rim.starts, untouched)
    first = _in_row_order([_Children(untouched, at, starts), keeping, slow_keeping])
    rest = _in_row_order([further, slow_further])
    source = np.concatenate([first.source, rest.source])
    loop_starts = np.concatenate([first.starts, first.starts[-1] + rest.starts[1:]])

    on_edges = crossings.places if crossings.lift is None else crossings.places + crossings.lift
    places = np.concatenate([on_edges, inside_places])
    inside = source < 0
    loops = np.where(inside, mesh.vertex_count + len(crossings.places) - 1 - source, rim.vertex[np.maximum(source, 0)])
    loop_uv = None
    if rim.uv is not None:
        loop_uv = rim.uv[np.maximum(source, 0)].copy()
        values = [w.uv for w in worked if w.uv is not None]
        if inside.any():
            loop_uv[inside] = np.concatenate(values)[-1 - source[inside]]
    new_edges = _distinct_pairs(np.concatenate([chords, slow_edges]), mesh.vertex_count + len(places))
    return Subdivision(places, crossings.edges, crossings.starts, touched, loops, loop_starts, loop_uv, touched[rest.row], new_edges)


def _distinct_pairs(pairs: Ints, count: int) -> Ints:
    """Vertex pairs (n, 2) once each, the lower vertex first, ascending."""
    low, high = np.minimum(pairs[:, 0], pairs[:, 1]), np.maximum(pairs[:, 0], pairs[:, 1])
    keys = distinct(low * np.int64(count) + high)
    return np.stack([keys // count, keys % count], axis=1)


def _halves(rim: Rim, row: Ints, chord: Ints, weld: float) -> tuple[Ints, _Children, _Children, Ints]:
    """Split faces crossed by one chord from border to border.

    Returns the rows that are done, their children with the first corner, the others, and the new edges.
    Rows where a half would be all but flat, or the border names a vertex twice, are left for `arrange`.
    """
    at, starts = row_positions(rim.starts, row)
    vertex = rim.vertex[at]
    sizes = np.diff(starts)
    local = np.arange(len(at)) - np.repeat(starts[:-1], sizes)
    ends = np.zeros((len(row), 2), dtype=np.int64)
    clear = np.ones(len(row), dtype=bool)
    for k in (0, 1):
        hit = vertex == np.repeat(chord[:, k], sizes)
        if len(row):
            clear &= np.add.reduceat(hit, starts[:-1], dtype=np.int64) == 1
        owner = np.repeat(np.arange(len(row)), sizes)[hit]
        ends[owner, k] = local[hit]
    i, j = ends.min(axis=1), ends.max(axis=1)
    flat = (j - i == 1) | ((i == 0) & (j == sizes - 1))

    low, high = np.repeat(i, sizes), np.repeat(j, sizes)
    between = (local >= low) & (local <= high)
    outer = (local <= low) | (local >= high)
    first_is_between = np.repeat(i == 0, sizes)
    one = np.where(first_is_between, between, outer)
    other = np.where(first_is_between, outer, between)

    def rows_of(mask: Ints) -> _Children:
        size = np.add.reduceat(mask, starts[:-1], dtype=np.int64) if len(row) else np.zeros(0, np.int64)
        return _Children(row, at[mask], starts_of(size))

    keeping, further = rows_of(one), rows_of(other)
    # [0, j .. n-1] is a rotation of [j .. n-1, 0]: the same loop.
    whole = newell(rim.places[at], starts)
    whole_area = np.linalg.norm(whole, axis=1)
    good = clear & ~flat
    for half in (keeping, further):
        proper = np.diff(half.starts) >= 3
        good &= proper
        if proper.all():
            # A half that may be no wider than the tolerance is not taken from here on trust.
            places = rim.places[half.source]
            step = places[next_in_row(half.starts)] - places
            side = np.sqrt(np.einsum("ij,ij->i", step, step))
            enough = weld * np.add.reduceat(side, half.starts[:-1]) * whole_area if len(side) else whole_area
            good &= np.einsum("ij,ij->i", newell(places, half.starts), whole) > enough
    chosen = np.flatnonzero(good)
    return row[chosen], _some(keeping, chosen), _some(further, chosen), chord[chosen]


def _some(children: _Children, chosen: Ints) -> _Children:
    at, starts = row_positions(children.starts, chosen)
    return _Children(children.row[chosen], children.source[at], starts)


def _in_row_order(groups: list[_Children]) -> _Children:
    row = np.concatenate([g.row for g in groups])
    sizes = np.concatenate([np.diff(g.starts) for g in groups])
    source = np.concatenate([g.source for g in groups])
    order = np.argsort(row, kind="stable")
    at, starts = row_positions(starts_of(sizes), order)
    return _Children(row[order], source[at], starts)


@dataclass(frozen=True, eq=False)
class _Worked:
    """One face worked out on its own: children and new edges as nodes, border nodes first."""

    border: int
    children: list[Ints]
    edges: Ints
    inside: Floats
    uv: Floats | None
    names: Ints


def _arranged(mesh: Mesh, trace: Trace, rim: Rim, row: int, spans: Ints, vertex: Ints, weld: float) -> _Worked:
    face = int(rim.faces[row])
    at = np.arange(rim.starts[row], rim.starts[row + 1])
    border = rim.vertex[at]
    node_of = {int(v): k for k, v in enumerate(border)}
    inner = [int(a) for a in np.unique(spans) if trace.kind[a] == IN_FACE]
    place_of = {a: len(border) + k for k, a in enumerate(inner)}
    segments = np.array([[place_of[a] if a in place_of else node_of[int(vertex[a])] for a in pair] for pair in spans.tolist()])
    places = np.concatenate([rim.places[at], trace.place[inner]])
    made = arrange(FaceLines(face, places, len(border), segments), weld=weld)
    used = np.unique(np.concatenate(made.children))
    inside = used[used >= len(border)]
    corners = slice(mesh.starts[face], mesh.starts[face + 1])
    uv = None
    if mesh.uv is not None:
        uv = interpolate_inside(mesh.points[mesh.corners[corners]], mesh.uv[corners], made.places[inside])
    lifted = made.places[inside]
    if trace.lift is not None:
        # Crossings of lines come after the places given, and are not lifted.
        given = inside < len(border) + len(inner)
        lifted[given] += trace.lift[inner][inside[given] - len(border)]
    return _Worked(len(border), made.children, made.edges, lifted, uv, inside)


def _numbered(mesh: Mesh, rim: Rim, worked: list[_Worked], rows: Ints, on_edges: int) -> tuple[Floats, _Children, _Children, Ints]:
    """Number the places inside faces, one face after the other; children as sources, new edges as vertices."""
    inside: list[Floats] = [np.zeros((0, 3))]
    first: list[Ints] = []
    rest: list[Ints] = []
    rest_row: list[int] = []
    edges: list[Ints] = [np.zeros((0, 2), dtype=np.int64)]
    count = 0
    for row, face in zip(rows.tolist(), worked, strict=True):
        source = np.full(int(face.names.max(initial=face.border - 1)) + 1, 0, dtype=np.int64)
        source[: face.border] = rim.starts[row] + np.arange(face.border)
        source[face.names] = -1 - count - np.arange(len(face.names))
        first.append(source[face.children[0]])
        rest += [source[child] for child in face.children[1:]]
        rest_row += [row] * (len(face.children) - 1)
        named = source[face.edges]
        edges.append(np.where(named < 0, mesh.vertex_count + on_edges - 1 - named, rim.vertex[np.maximum(named, 0)]))
        inside.append(face.inside)
        count += len(face.names)
    return np.concatenate(inside), _children(rows, first), _children(np.array(rest_row, dtype=np.int64), rest), np.concatenate(edges)


def _children(row: Ints, loops: list[Ints]) -> _Children:
    sizes = np.array([len(loop) for loop in loops], dtype=np.int64)
    return _Children(row, np.concatenate([np.zeros(0, np.int64), *loops]), starts_of(sizes))
