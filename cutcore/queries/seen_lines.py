"""The edges of a mesh as a view sees them: which stretches of each are in sight, and which lie behind
the part.

Every edge is looked at in steps of a pixel or two, and where sight changes the place is halved until
it is known to a fraction of a pixel: what hides an edge for less than a step may be passed over.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.progress import come_to
from cutcore.queries.bends import bends
from cutcore.queries.visibility import look_at

STEP_PX = 1.5
# Where sight changes is known to a step halved so many times.
HALVINGS = 5
# Of edges that look at all alike, those at which the surface bends by more degrees tell the form.
FORM_ABOVE_DEG = 30.0
# More looks than these take too long: steps get longer.
MOST_LOOKS = 3_000_000
LOOKS_AT_ONCE = 250_000
# What lies nearer to a perspective eye than this share of the part's size is left out.
NEAREST = 1e-4


@dataclass(frozen=True, eq=False)
class SeenLines:
    """Stretches of edges on the screen: `ends (N, 2, 2)` pixels, the `edge (N,)` each is of, whether
    it is `seen (N,)`, and whether the edge is one of those that tell the form, `bold (N,)`."""

    ends: Floats
    edge: Ints
    seen: Bools
    bold: Bools


def seen_lines(
    mesh: Mesh, camera: Camera, size: tuple[float, float], *, every: bool = True
) -> SeenLines:
    """The edges of a mesh within a window of `size` pixels; only those that tell the form, unless
    `every` is asked for."""
    bold = form_edges(mesh, camera) if mesh.face_count else np.zeros(0, dtype=bool)
    chosen = np.arange(len(mesh.edges)) if every else np.flatnonzero(bold)
    edge, places = _before_the_eye(mesh, camera, chosen)
    edge, places = _within(camera, edge, places, size)
    if len(edge) == 0:
        none = np.zeros(0, dtype=bool)
        return SeenLines(np.zeros((0, 2, 2)), edge, none, none)
    runs = _runs(mesh, camera, places)
    ends = camera.project(runs.places.reshape(-1, 3)).reshape(-1, 2, 2)
    return SeenLines(ends, edge[runs.row], runs.seen, bold[edge[runs.row]])


def form_edges(mesh: Mesh, camera: Camera) -> Bools:
    """Which edges (E,) tell the form from a view: boundaries, hard edges, those where the surface
    turns away or bends, and where more than two faces meet."""
    table = mesh.edges
    middles = mesh.points[mesh.corners[mesh.starts[:-1]]]
    facing = np.einsum("ij,ij->i", mesh.face_normals(), camera.sights(middles)) < 0
    told = table.border | (bends(mesh) > FORM_ABOVE_DEG)
    two = ~table.border
    told[two] |= facing[table.faces[two, 0]] != facing[table.faces[two, 1]]
    told[list(table.crowded)] = True
    return told | table.joining(mesh.hard)


def _before_the_eye(mesh: Mesh, camera: Camera, chosen: Ints) -> tuple[Ints, Floats]:
    """Some edges, and their ends (N, 2, 3), as far as they lie before the eye."""
    places = mesh.points[mesh.edges.ends[chosen]]
    if camera.parallel:
        return chosen, places
    depth = camera.depth(places.reshape(-1, 3)).reshape(-1, 2)
    near = NEAREST * mesh.diagonal
    there = (depth > near).any(axis=1)
    chosen, places, depth = chosen[there], places[there].copy(), depth[there]
    for this, other in ((0, 1), (1, 0)):
        behind = depth[:, this] <= near
        share = (near - depth[behind, this]) / (depth[behind, other] - depth[behind, this])
        places[behind, this] += share[:, None] * (places[behind, other] - places[behind, this])
    return chosen, places


def _within(
    camera: Camera, edge: Ints, places: Floats, size: tuple[float, float]
) -> tuple[Ints, Floats]:
    """Lines cut off at the sides of the window, by Liang and Barsky, in shares of the screen."""
    ends = camera.project(places.reshape(-1, 3)).reshape(-1, 2, 2)
    way = ends[:, 1] - ends[:, 0]
    low, high = np.zeros(len(ends)), np.ones(len(ends))
    for axis in (0, 1):
        for sign, bound in ((-1.0, 0.0), (1.0, size[axis])):
            # sign * x <= sign * bound along the line.
            room = sign * (bound - ends[:, 0, axis])
            rate = sign * way[:, axis]
            with np.errstate(divide="ignore", invalid="ignore"):
                at = room / rate
            high = np.where(rate > 0, np.minimum(high, at), high)
            low = np.where(rate < 0, np.maximum(low, at), low)
            high = np.where((rate == 0) & (room < 0), -1.0, high)
    there = np.flatnonzero(low < high)
    shares = np.stack([low[there], high[there]], axis=1)
    rows = np.repeat(there, 2)
    cut = _places_at(camera, places[rows], shares.ravel())
    return edge[there], cut.reshape(-1, 2, 3)


def _places_at(camera: Camera, places: Floats, shares: Floats) -> Floats:
    """Places (N, 3) at shares (N,) of lines (N, 2, 3) as they are on the screen."""
    if not camera.parallel:
        depth = camera.depth(places.reshape(-1, 3)).reshape(-1, 2)
        shares = shares * depth[:, 0] / (depth[:, 1] + shares * (depth[:, 0] - depth[:, 1]))
    return np.asarray(places[:, 0] + shares[:, None] * (places[:, 1] - places[:, 0]))


@dataclass(frozen=True, eq=False)
class _Runs:
    row: Ints
    places: Floats
    seen: Bools


def _runs(mesh: Mesh, camera: Camera, places: Floats) -> _Runs:
    """Lines (N, 2, 3) parted where sight of them changes."""
    ends = camera.project(places.reshape(-1, 3)).reshape(-1, 2, 2)
    length = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    step = max(STEP_PX, float(length.sum()) / MOST_LOOKS)
    count = np.maximum(1, np.ceil(length / step)).astype(np.int64)
    row = np.repeat(np.arange(len(places)), count)
    first = np.cumsum(count) - count
    share = (np.arange(len(row)) - first[row] + 0.5) / count[row]
    seen = _look(mesh, camera, places, row, share)

    # Between one look and the next on the same line sight may change: halve until it is known where.
    change = np.flatnonzero((row[1:] == row[:-1]) & (seen[1:] != seen[:-1]))
    low, high = share[change], share[change + 1]
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        as_before = _look(mesh, camera, places, row[change], middle) == seen[change]
        low, high = np.where(as_before, middle, low), np.where(as_before, high, middle)
    at = (low + high) / 2

    begins = np.zeros(len(row), dtype=bool)
    begins[first] = True
    begins[change + 1] = True
    heads = np.flatnonzero(begins)
    starts = np.zeros(len(row))
    starts[change + 1] = at
    stops = np.ones(len(row))
    stops[change] = at
    last = np.append(heads[1:], len(row)) - 1
    runs = row[heads]
    spans = [_places_at(camera, places[runs], shares) for shares in (starts[heads], stops[last])]
    return _Runs(runs, np.stack(spans, axis=1), seen[heads])


def _look(mesh: Mesh, camera: Camera, places: Floats, row: Ints, share: Floats) -> Bools:
    """Whether the lines (N, 2, 3) of some rows are in sight at a share of each."""
    clear = np.empty(len(row), dtype=bool)
    for begin in range(0, len(row), LOOKS_AT_ONCE):
        some = slice(begin, begin + LOOKS_AT_ONCE)
        come_to("looking along the edges", begin / len(row))
        clear[some] = look_at(
            mesh, camera, _places_at(camera, places[row[some]], share[some])
        ).clear
    return clear
