"""Odd faces side by side in one plane: the edge between them is taken away."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, cross
from cutcore.geometry.chart import chart_of
from cutcore.geometry.polygons import loop_area
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.kernels import cost_of, form_of
from cutcore.kernels.quad_chords import EACH, MOST_UNEVEN, UNEVEN
from cutcore.mesh.mesh import Mesh

# Two triangles are not joined to a quad worse than this: its scaled Jacobian.
WORST_QUAD = 0.2

# Faces are in one plane if their corners lie off it by no more than this share of their width.
FLAT = 1e-5

# Texture places are one if they differ by no more than this.
SAME_PLACE = 1e-6


def edges_to_join(mesh: Mesh, odd: Bools, kept: Bools, *, degrees: float, weld: float) -> Ints:
    """The edges (n,) to take away so that odd faces (F,) become even in pairs, the best quads
    first; none shares a face with another.

    Not taken away: edges `kept (E,)`, hard ones, those between materials, patches or texture
    islands, and those at which the faces lean against each other by more than so many `degrees` or,
    where that is nothing, are not in one plane within `weld`."""
    faces = mesh.edges.faces
    able = ~kept & (faces[:, 1] >= 0) & odd[faces[:, 0]] & odd[np.maximum(faces[:, 1], 0)]
    able[list(mesh.edges.crowded)] = False
    edges = np.flatnonzero(able & ~mesh.edges.joining(mesh.hard))
    one, other = faces[edges, 0], faces[edges, 1]
    same = (mesh.material[one] == mesh.material[other]) & (mesh.patch[one] == mesh.patch[other])
    normals = mesh.face_normals(np.concatenate([one, other])).reshape(2, -1, 3)
    sizes = np.maximum(np.linalg.norm(normals, axis=2), NOT_ZERO)
    cosine = np.einsum("ij,ij->i", *normals) / (sizes[0] * sizes[1])
    # Of faces in one plane a rough look first, the exact one below.
    same &= cosine >= np.cos(np.radians(max(degrees, 1.0)))
    edges = edges[same]
    # Two triangles make most of the pairs: looked at all at once.
    plain = (mesh.sizes[faces[edges]] == 3).all(axis=1)
    costs = np.empty(len(edges))
    costs[plain] = _costs_of_triangles(mesh, edges[plain], degrees=degrees, weld=weld)
    costs[~plain] = [
        _cost(mesh, edge, weld=weld if degrees == 0 else np.inf) for edge in edges[~plain].tolist()
    ]
    ranked = [
        (cost, edge)
        for cost, edge in zip(costs.tolist(), edges.tolist(), strict=True)
        if np.isfinite(cost)
    ]
    taken: set[int] = set()
    found = []
    for _, edge in sorted(ranked):
        pair = {int(f) for f in faces[edge]}
        if taken.isdisjoint(pair):
            taken |= pair
            found.append(edge)
    return np.array(sorted(found), dtype=np.int64)


def _costs_of_triangles(mesh: Mesh, edges: Ints, *, degrees: float, weld: float) -> Floats:
    """What the quads (n,) that triangles make without the edges between them would cost, as `_cost`
    has it."""
    if len(edges) == 0:
        return np.zeros(0)
    at = mesh.starts[mesh.edges.faces[edges]][:, :, None] + np.arange(3)
    side = np.argmax(mesh.edges.of_corner[at] == edges[:, None, None], axis=2)
    turned = np.take_along_axis(at, (side[:, :, None] + np.arange(3)) % 3, axis=2)
    loops = mesh.corners[turned]
    # The first triangle from the far end of the edge on, and the corner of the other one.
    quads = np.concatenate([loops[:, 0, [1, 2, 0]], loops[:, 1, [2]]], axis=1)
    agree = loops[:, 0, 0] == loops[:, 1, 1]
    distinct = loops[:, 0, 2] != loops[:, 1, 2]
    places = mesh.points[quads]
    normal = cross(places[:, 2] - places[:, 0], places[:, 3] - places[:, 1])
    size = np.maximum(np.linalg.norm(normal, axis=1), NOT_ZERO)
    normal = normal / size[:, None]
    ahead = np.roll(places, -1, axis=1) - places
    length = np.maximum(np.linalg.norm(ahead, axis=2), NOT_ZERO)
    unit = ahead / length[:, :, None]
    sine = np.einsum("ijk,ik->ij", cross(unit, -np.roll(unit, 1, axis=1)), normal)
    form = sine.min(axis=1)
    times = np.maximum(length / np.roll(length, 2, axis=1), np.roll(length, 2, axis=1) / length)[
        :, :2
    ]
    costs = 1.0 / np.maximum(form, NOT_ZERO) - 1.0 + EACH
    costs += np.minimum(UNEVEN * (times - 1.0), MOST_UNEVEN).sum(axis=1)
    fits = agree & distinct & (form >= WORST_QUAD)
    if degrees == 0:
        off = np.abs(np.einsum("ijk,ik->ij", places - places.mean(axis=1)[:, None], normal))
        fits &= off.max(axis=1) <= np.minimum(weld, FLAT * 0.5 * size / length.max(axis=1))
    if mesh.uv is not None:
        uv = mesh.uv[turned]
        one, other = uv[:, 0, [0, 1]], uv[:, 1, [1, 0]]
        near = np.abs(one - other) <= SAME_PLACE
        fits &= (near | (np.isnan(one) & np.isnan(other))).all(axis=(1, 2))
    return np.where(fits, costs, np.inf)


def _cost(mesh: Mesh, edge: int, *, weld: float) -> float:
    """What the face that two make without their edge would cost; infinite if they are not joined."""
    one, other = (int(f) for f in mesh.edges.faces[edge])
    first, second = mesh.face(one), mesh.face(other)
    low, high = (int(v) for v in mesh.edges.ends[edge])
    if len(np.intersect1d(first, second)) > 2:
        return np.inf
    loop, then = _from(first, low, high), _from(second, low, high)
    if loop[0] == then[0]:
        return np.inf
    whole = np.concatenate([loop[:-1], then[:-1]])
    places = mesh.points[whole]
    chart = chart_of(places)
    flat = chart.flatten(places)
    if np.isfinite(weld):
        # What lies off the plane by such a share of the width changes the area by its square.
        width = loop_area(flat) / max(float(np.ptp(flat, axis=0).max()), NOT_ZERO)
        off = np.abs((places - places.mean(axis=0)) @ chart.normal).max()
        if off > min(weld, FLAT * width):
            return np.inf
    if mesh.uv is not None and not _same_texture(mesh, mesh.uv, (one, other), (low, high)):
        return np.inf
    if len(whole) != 4:
        # It is cut into quads anyway; a small one has less to lose.
        return 100.0 + len(whole)
    return cost_of(flat) if form_of(flat) >= WORST_QUAD else np.inf


def _from(loop: Ints, low: int, high: int) -> Ints:
    """A loop turned so that the edge between two vertices leads from its last to its first."""
    k = next(k for k in range(len(loop)) if {int(loop[k - 1]), int(loop[k])} == {low, high})
    return np.roll(loop, -k)


def _same_texture(mesh: Mesh, uv: Floats, faces: tuple[int, int], ends: tuple[int, int]) -> bool:
    """Whether two faces have the same texture places at two vertices."""
    found = [
        [uv[mesh.starts[f] + int(np.flatnonzero(mesh.face(f) == v)[0])] for v in ends]
        for f in faces
    ]
    return bool(np.allclose(found[0], found[1], rtol=0, atol=SAME_PLACE, equal_nan=True))
