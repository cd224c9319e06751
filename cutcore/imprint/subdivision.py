"""What a trace makes of the faces it touches, before anything is copied.

1. Anchors on edges become vertices, one for each place of an edge, keyed by edge and share.
2. Every face at such an edge gets the vertex on its border: no T-junction can arise.
3. A face crossed by one path from border to border is split in two, all such faces at once.
4. So are faces that several straight lines cross from border to border without meeting.
5. Any other face with spans is worked out on its own (`arrangement`), unless the trace knows its
   children.

Corners of the new faces are written down as *sources*: a place in the table of borders (`Rim`), or
-1-k for the k-th new vertex inside a face. Vertex numbers and texture places are read off at the
end."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import (
    INDEX,
    Bools,
    Floats,
    Ints,
    distinct,
    found_in,
    next_in_row,
    row_positions,
    starts_of,
)
from cutcore.imprint.arrangement import Arrangement, FaceLines, arrange
from cutcore.imprint.judge import judge, tangled
from cutcore.imprint.rim import Crossings, Rim, vertices_on_edges
from cutcore.imprint.weights import interpolate_inside, weights_inside
from cutcore.kernels import chain_slots, comb_rows, lay_rows, order_paths, pieces_of_paths
from cutcore.mesh.mesh import Mesh, newell
from cutcore.progress import come_to, one_by_one
from cutcore.trace.trace import IN_FACE, Trace


@dataclass(frozen=True, eq=False)
class Subdivision:
    """New vertices and the children of touched faces.

    places        (N, 3) new vertices; they are numbered after the old ones, in this order
    split_edges   (M,)   edges with new vertices on them, ascending
    split_starts  (M+1,) which of the new vertices lie on each, from its lower vertex up
    faces         (T,)   touched faces, ascending
    loops         ragged children: vertices by `loop_starts (L+1,)`; the first T rows are the
                  children that
                  keep their parent's number, in the order of `faces`
    loop_edges    the edge from each of the loops' corners to the next, numbered as in the mesh to
                  come
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
    loop_edges: Ints
    loop_uv: Floats | None
    extra_parents: Ints
    new_edges: Ints

    @property
    def adds_nothing(self) -> bool:
        return len(self.places) == 0 and len(self.extra_parents) == 0

    def smallest(self, mesh: Mesh) -> tuple[float, float]:
        """The length of the shortest edge and the area of the smallest face among the children."""
        places = np.concatenate([mesh.points, self.places])[self.loops]
        sides = places[next_in_row(self.loop_starts)] - places
        return float(np.linalg.norm(sides, axis=1).min()), float(
            np.linalg.norm(newell(places, self.loop_starts), axis=1).min()
        )


def subdivide(
    mesh: Mesh, trace: Trace, *, weld: float, arranged: dict[int, Arranged] | None = None
) -> Subdivision:
    """The new vertices and faces that a trace makes. Raises ImprintError for a face it can't be
    laid into.

    `arranged` keeps the children of faces that are worked out on their own, for a trace of the same
    lines that are lifted otherwise: how lines lie in a face follows from where they are unlifted.
    """
    crossings = vertices_on_edges(mesh, trace, weld=weld)
    cut = np.flatnonzero(trace.cut)
    ends, face = trace.ends.take(cut, axis=0), trace.face.take(cut)
    flagged = mesh.edges.beside(crossings.edges, mesh.face_count)
    flagged[face] = True
    touched = np.flatnonzero(flagged)
    rim = Rim.of(mesh, touched, crossings)

    row_of = np.empty(mesh.face_count, dtype=INDEX)
    row_of[touched] = np.arange(len(touched))
    row = row_of[face]
    count = np.bincount(row, minlength=len(touched))
    order = np.argsort(row, kind="stable")
    held = np.flatnonzero(count)
    starts = starts_of(count[held])
    path, whole = order_paths(starts, ends.take(order, axis=0), trace.kind == IN_FACE)
    low, high = chain_slots(
        rim.starts,
        rim.vertex,
        mesh.points,
        crossings.places,
        held,
        starts,
        path,
        whole,
        crossings.vertex,
        trace.place,
        weld,
    )
    chains = _Chains(
        *pieces_of_paths(
            held, starts, path, low, crossings.vertex, mesh.vertex_count + len(crossings.places)
        )
    )

    elsewhere = (count > 0) & (low < 0)
    inner = np.bincount(row[(trace.kind[ends] == IN_FACE).any(axis=1)], minlength=len(touched))
    straight = elsewhere & (inner == 0) & (count > 1)
    combs = _Combs.of(mesh, rim, crossings, straight, row[order], ends[order], weld)
    slow = np.flatnonzero(elsewhere & (combs.children == 0))
    row_starts = starts_of(count)
    by_row = ends.take(order, axis=0)
    worked: dict[int, Arranged] = {} if arranged is None else arranged
    for r in one_by_one("laying lines into faces", slow.tolist()):
        if int(touched[r]) not in worked:
            spans = by_row[row_starts[r] : row_starts[r + 1]]
            worked[int(touched[r])] = _arranged(mesh, trace, rim, r, spans, crossings, weld)
    alone = [worked[f] for f in touched[slow].tolist()]
    inside_places = [
        face.lifted(
            trace, crossings, rim.vertex[rim.starts[r] : rim.starts[r + 1]] - mesh.vertex_count
        )
        for r, face in zip(slow.tolist(), alone, strict=True)
    ]
    first_inside = mesh.vertex_count + len(crossings.places)
    slow_loops, slow_edges = _numbered(rim, alone, slow, first_inside, len(chains.inside))

    drawn = np.concatenate([chains.pairs, combs.pairs, slow_edges])
    new_edges, number = _numbered_pairs(mesh, rim, drawn, len(crossings.places))

    split = low >= 0
    more = split.astype(np.int64)
    more[slow] = [len(loops) - 1 for loops in slow_loops]
    more += np.maximum(combs.children - 1, 0)
    further = len(touched) + starts_of(more)
    sizes = np.zeros(further[-1], dtype=np.int64)
    around, within = np.diff(rim.starts), np.diff(chains.inside_of)
    half = np.where(low == 0, high - low + 1, around - (high - low) + 1) + within
    sizes[: len(touched)] = np.where(split, half, around)
    sizes[further[:-1][split]] = (around + 2 + 2 * within - half)[split]
    child = combs.loops(further)
    sizes[child] = combs.sizes
    for r, loops in zip(slow.tolist(), slow_loops, strict=True):
        sizes[r] = len(loops[0])
        sizes[further[r] : further[r + 1]] = [len(loop) for loop in loops[1:]]
    loop_starts = starts_of(sizes)
    source, loops, loop_edges = np.empty((3, loop_starts[-1]), dtype=INDEX)
    lay_rows(
        rim.starts,
        rim.vertex,
        rim.edge,
        low,
        high,
        chains.segment_of,
        number,
        chains.inside_of,
        first_inside,
        elsewhere,
        loop_starts,
        further,
        source,
        loops,
        loop_edges,
    )
    combed = row_positions(loop_starts, child)[0]
    source[combed], loops[combed] = combs.slots, rim.vertex[combs.slots]
    drawn_before = len(chains.pairs)
    loop_edges[combed] = rim.edge[combs.slots]
    by_line = combs.leads >= 0
    loop_edges[combed[by_line]] = number[drawn_before + combs.leads[by_line]]
    names = number[drawn_before + len(combs.pairs) :]
    known = dict(zip(map(tuple, np.sort(slow_edges, axis=1).tolist()), names.tolist(), strict=True))
    for r, children in zip(slow.tolist(), slow_loops, strict=True):
        for loop, child in zip([r, *range(further[r], further[r + 1])], children, strict=True):
            at = slice(loop_starts[loop], loop_starts[loop + 1])
            source[at] = child
            loops[at] = np.where(
                child < 0, first_inside - 1 - child, rim.vertex[np.maximum(child, 0)]
            )
            loop_edges[at] = _edges_of_loop(rim, r, child, loops[at], known)

    on_edges = crossings.places if crossings.lift is None else crossings.places + crossings.lift
    places = np.concatenate([on_edges, chains.lifted(trace), *inside_places])
    parents = np.repeat(touched, more)
    come_to("looking at what was made")
    judge(
        mesh,
        touched,
        np.concatenate([touched, parents]),
        loops,
        loop_starts,
        loop_edges,
        places,
        len(crossings.places),
        weld=weld,
        lifted=trace.lift is not None,
    )
    loop_uv = None
    if rim.uv is not None:
        loop_uv = rim.uv[np.maximum(source, 0)]
        inside = source < 0
        if inside.any():
            values = [*chains.uv(mesh, trace, touched), *(w.uv for w in alone if w.uv is not None)]
            loop_uv[inside] = np.concatenate(values)[-1 - source[inside]]
    return Subdivision(
        places,
        crossings.edges,
        crossings.starts,
        touched,
        loops,
        loop_starts,
        loop_edges,
        loop_uv,
        parents,
        new_edges,
    )


@dataclass(frozen=True, eq=False)
class _Chains:
    """Paths that split their faces in two.

    inside      (k,)   the anchors inside faces, face by face on the way of each path
    inside_of   (T+1,) which of them each touched face has
    pairs       (s, 2) the vertices that the pieces of the paths join
    segment_of  (T+1,) which of the pieces each touched face has
    """

    inside: Ints
    inside_of: Ints
    pairs: Ints
    segment_of: Ints

    def lifted(self, trace: Trace) -> Floats:
        """Where the vertices inside faces come to lie (k, 3)."""
        return (
            trace.place[self.inside]
            if trace.lift is None
            else trace.place[self.inside] + trace.lift[self.inside]
        )

    def uv(self, mesh: Mesh, trace: Trace, touched: Ints) -> list[Floats]:
        """Their texture places, face by face."""
        assert mesh.uv is not None
        found = []
        for row in np.flatnonzero(np.diff(self.inside_of)).tolist():
            corners = slice(mesh.starts[touched[row]], mesh.starts[touched[row] + 1])
            places = trace.place[self.inside[self.inside_of[row] : self.inside_of[row + 1]]]
            found.append(
                interpolate_inside(mesh.points[mesh.corners[corners]], mesh.uv[corners], places)
            )
        return found


@dataclass(frozen=True, eq=False)
class _Combs:
    """Several lines from border to border in a face, none meeting another.

    rows      (n,)   the faces among the touched ones that have such lines, ascending
    children  (T,)   how many children each touched face has by them, 0 for none
    sizes     (c,)   the sizes of the children, face by face, the one that keeps the first corner
              first
    slots     ragged their corners as places in the table of borders
    leads     ragged the line that leads from each to the next, as a row of `pairs`; -1 for the
              border
    pairs     (s, 2) the vertices that the lines join
    """

    rows: Ints
    children: Ints
    sizes: Ints
    slots: Ints
    leads: Ints
    pairs: Ints

    @staticmethod
    def of(
        mesh: Mesh,
        rim: Rim,
        crossings: Crossings,
        straight: Bools,
        row: Ints,
        ends: Ints,
        weld: float,
    ) -> _Combs:
        """What lines make of the touched faces (T,) that have no others; `ends (s, 2)` are anchors,
        `row (s,)` the face of each line, ascending."""
        chosen = straight[row]
        rows, ends = np.flatnonzero(straight), ends[chosen]
        starts = starts_of(np.bincount(row[chosen], minlength=len(straight))[rows])
        laid, children, sizes, slots, leads = comb_rows(
            rim.starts,
            rim.vertex,
            mesh.points,
            crossings.places,
            rows,
            starts,
            ends,
            crossings.vertex,
            weld,
        )
        count = np.zeros(len(straight), dtype=np.int64)
        count[rows] = children
        # Lines of faces that are left for a slower way are not among the pairs.
        kept = np.repeat(laid, np.diff(starts))
        leads = np.where(
            leads < 0, -1, (np.cumsum(kept) - 1)[np.maximum(leads, 0)] if len(kept) else -1
        )
        return _Combs(rows[laid], count, sizes, slots, leads, crossings.vertex[ends[kept]])

    def loops(self, further: Ints) -> Ints:
        """Which loop each child is: of a face r the first is r itself, the others come from
        further[r] on."""
        count = self.children[self.rows]
        first = starts_of(count)
        found = (
            np.repeat(further[self.rows], count)
            + np.arange(first[-1])
            - np.repeat(first[:-1], count)
            - 1
        )
        found[first[:-1]] = self.rows
        return found


def _numbered_pairs(mesh: Mesh, rim: Rim, pairs: Ints, on_edges: int) -> tuple[Ints, Ints]:
    """New edges once each, the lower vertex first, ascending; and the number of the edge that each
    pair (n, 2) is.

    A pair that the border of a touched face joins already is that edge, and none that is new.
    """
    low, high = np.minimum(pairs[:, 0], pairs[:, 1]), np.maximum(pairs[:, 0], pairs[:, 1])
    count = np.int64(max(int(high.max(initial=0)), mesh.vertex_count + on_edges)) + 1
    keys = low * count + high
    number = np.full(len(keys), -1, dtype=np.int64)
    old = np.flatnonzero(high < mesh.vertex_count)
    if len(old):
        border = distinct(rim.edge[rim.edge < len(mesh.edges)])
        ends = mesh.edges.ends[border].astype(np.int64)
        order = np.argsort(ends[:, 0] * count + ends[:, 1])
        ordered = (ends[:, 0] * count + ends[:, 1])[order]
        there = found_in(keys[old], ordered)
        number[old[there]] = border[order[np.searchsorted(ordered, keys[old[there]])]]
    fresh = np.flatnonzero(number < 0)
    order = fresh[np.argsort(keys[fresh])]
    head = np.ones(len(order), dtype=bool)
    head[1:] = keys[order[1:]] != keys[order[:-1]]
    number[order] = len(mesh.edges) + on_edges + np.cumsum(head) - 1
    return np.stack([low[order[head]], high[order[head]]], axis=1), number


def _edges_of_loop(
    rim: Rim, row: int, child: Ints, vertices: Ints, known: dict[tuple[int, int], int]
) -> list[int]:
    """The edge from each corner of a child to the next: along the border of its face, or one of the
    new ones."""
    begin, end = int(rim.starts[row]), int(rim.starts[row + 1])
    found = []
    for k, slot in enumerate(child.tolist()):
        following = (k + 1) % len(child)
        if slot >= 0 and child[following] == (slot + 1 if slot + 1 < end else begin):
            found.append(int(rim.edge[slot]))
        else:
            a, b = int(vertices[k]), int(vertices[following])
            found.append(known[min(a, b), max(a, b)])
    return found


@dataclass(frozen=True, eq=False)
class Arranged:
    """One face worked out on its own, where its lines are unlifted.

    arrangement  its children and new edges as nodes, those of the border first
    border       how many these are
    anchors      (a,)  the anchors that the next nodes are; crossings of lines come after them
    inside       (n,)  the nodes inside the face that children have
    uv           (n, 2) their texture places, or None
    weights      (c, border) how crossings among them go along with the border
    """

    arrangement: Arrangement
    border: int
    anchors: Ints
    inside: Ints
    uv: Floats | None
    weights: Floats

    def lifted(self, trace: Trace, crossings: Crossings, vertices: Ints) -> Floats:
        """Where the nodes inside the face come to lie (n, 3); `vertices (border,)` go round it, new
        ones numbered from 0 and the others below it."""
        places = self.arrangement.places[self.inside]
        if trace.lift is None:
            return places
        given = self.inside < self.border + len(self.anchors)
        places[given] += trace.lift[self.anchors][self.inside[given] - self.border]
        if crossings.lift is not None:
            around = np.zeros((self.border, 3))
            around[vertices >= 0] = crossings.lift[vertices[vertices >= 0]]
            places[~given] += self.weights @ around
        return places


def _arranged(
    mesh: Mesh, trace: Trace, rim: Rim, row: int, spans: Ints, crossings: Crossings, weld: float
) -> Arranged:
    face = int(rim.faces[row])
    border = rim.vertex[rim.starts[row] : rim.starts[row + 1]]
    node_of = {int(v): k for k, v in enumerate(border)}
    inner = [int(a) for a in np.unique(spans) if trace.kind[a] == IN_FACE]
    place_of = {a: len(border) + k for k, a in enumerate(inner)}

    def node_at(anchor: int) -> int:
        if anchor in place_of:
            return place_of[anchor]
        return node_of[int(crossings.vertex[anchor])]

    segments = np.array([[node_at(a) for a in pair] for pair in spans.tolist()])
    on_edges = border[border >= mesh.vertex_count] - mesh.vertex_count
    places = np.concatenate(
        [mesh.points[np.minimum(border, mesh.vertex_count - 1)], trace.place[inner]]
    )
    places[: len(border)][border >= mesh.vertex_count] = crossings.places[on_edges]
    if face in trace.children:
        loops = [[node_at(a) for a in loop] for loop in trace.children[face]]
        if any(len(set(loop)) < len(loop) for loop in loops):
            # Places within the tolerance of each other became one.
            raise tangled(face)
        made = Arrangement(places, _first_child_first(loops), segments)
    else:
        made = arrange(FaceLines(face, places, len(border), segments), weld=weld)
    used = np.unique(np.concatenate(made.children))
    inside = used[used >= len(border)]
    corners = slice(mesh.starts[face], mesh.starts[face + 1])
    uv = None
    if mesh.uv is not None:
        uv = interpolate_inside(
            mesh.points[mesh.corners[corners]], mesh.uv[corners], made.places[inside]
        )
    crossed = inside[inside >= len(border) + len(inner)]
    weights = np.zeros((0, len(border)))
    if len(crossed) and crossings.lift is not None:
        weights = weights_inside(places[: len(border)], made.places[crossed])
    return Arranged(made, len(border), np.array(inner, dtype=np.int64), inside, uv, weights)


def _first_child_first(loops: list[list[int]]) -> list[Ints]:
    """The child with the border's first side first, and begun with its first node."""
    for loop in loops:
        if 0 in loop and loop[(loop.index(0) + 1) % len(loop)] == 1:
            first = loop
    at = first.index(0)
    turned = first[at:] + first[:at]
    return [np.array(loop) for loop in (turned, *(loop for loop in loops if loop is not first))]


def _numbered(
    rim: Rim, worked: list[Arranged], rows: Ints, first_inside: int, count: int
) -> tuple[list[list[Ints]], Ints]:
    """The children of each face as sources and the new edges as vertices, when those inside faces
    are numbered one face after the other, from `first_inside` on, of which there are `count`
    already."""
    loops: list[list[Ints]] = []
    edges: list[Ints] = [np.zeros((0, 2), dtype=np.int64)]
    for row, face in zip(rows.tolist(), worked, strict=True):
        source = np.zeros(len(face.arrangement.places), dtype=np.int64)
        source[: face.border] = rim.starts[row] + np.arange(face.border)
        source[face.inside] = -1 - count - np.arange(len(face.inside))
        loops.append([source[child] for child in face.arrangement.children])
        named = source[face.arrangement.edges]
        edges.append(
            np.where(named < 0, first_inside - 1 - named, rim.vertex[np.maximum(named, 0)])
        )
        count += len(face.inside)
    return loops, np.concatenate(edges)
