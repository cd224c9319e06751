"""The mark: what the next point would sit on, for a pointer in a view."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import Field

from cutcore.aiming.locks import Guide, on_guide
from cutcore.geometry.arrays import Floats, Ints, next_in_row, row_positions
from cutcore.geometry.camera import Camera, Pixel
from cutcore.geometry.multiples import nearest_multiple
from cutcore.geometry.tolerances import NEGLIGIBLE, ROUNDING
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.mesh import Mesh
from cutcore.params import Params
from cutcore.queries.ray_caster import Shown, first_hits
from cutcore.queries.visibility import look_at, reach_of
from cutcore.trace.surface_points import EdgePoint, FacePoint, KnifePoint, ScreenPoint, VertexPoint
from cutcore.trace.trace import anchor_place

# Distances on the screen, in pixels, within which the pointer takes a vertex or an edge.
VERTEX_PIXELS = 10.0
EDGE_PIXELS = 8.0
# On a face that is small on the screen they shrink to this share of its size, so that its inside
# stays in reach.
SHARE_OF_FACE = 0.28
# Rays round the pointer find the part where the pointer is just beside its outline.
FEELERS = 8
FEELER_PIXELS = 7.0
# A guide runs through a vertex that is this near, on the screen and as a share of the part's
# diagonal.
ON_GUIDE_PIXELS = 3.0
ON_GUIDE = 1e-6
MOST_STOPS = 2000
# A mark that may not sit on the ends of its edge keeps this share away from them.
NOT_THE_END = 0.01

MarkKind = Literal["vertex", "edge", "half", "face", "off"]


class Settling(Params):
    """How the pointer settles: `step` is the share between stops on an edge, or `every` the length
    between them, counted from the lower vertex; null for none. `free` suspends settling on stops
    and vertices, `half` asks for the half of the nearest edge."""

    step: float | None = Field(default=0.1, gt=0.0, le=1.0)
    every: float | None = Field(default=None, gt=0.0)
    free: bool = False
    half: bool = False


UNSETTLED = Settling(step=None, free=True)


@dataclass(frozen=True)
class Mark:
    """What is under the pointer.

    `point` is the knife point that a click would choose. On edges `ends` are the vertices as the
    share counts (from the lower one), `stop` whether it sits on a stop, `stops` all stops of the
    edge as places."""

    kind: MarkKind
    point: KnifePoint
    place: Floats | None
    words: str
    ends: tuple[int, int] | None = None
    share: float | None = None
    length: float | None = None
    stop: bool = False
    stops: Floats | None = None


def mark_at(
    mesh: Mesh,
    pixel: Pixel,
    camera: Camera,
    settling: Settling,
    *,
    guide: Guide | None = None,
    shown: Shown | None = None,
) -> Mark:
    """The mark for a pointer at a pixel: the nearest vertex in reach, else the nearest edge, else
    the face.

    On a guide, the share of an edge is where the guide crosses it, and only vertices on the guide
    are taken."""
    if guide is not None:
        x, y = on_guide(guide, pixel, camera)
        pixel = (float(x), float(y))
    faces, place = _faces_near(mesh, pixel, camera, shown)
    if len(faces) == 0:
        return _off(pixel)
    near = _Borders(mesh, faces, np.array(pixel, dtype=np.float64), camera, shown)
    if guide is not None:
        return _on_guide(mesh, near, guide, faces, place, pixel)
    if not settling.free and not settling.half:
        found = near.vertex()
        if found >= 0:
            return _on_vertex(mesh, found)
    edge, share = near.edge(anywhere=settling.half)
    if edge >= 0:
        return _on_edge(mesh, edge, share, settling)
    if place is None:
        return _off(pixel)
    face = int(faces[0])
    return Mark("face", FacePoint(face=face, at=_vector(place)), place, f"face {face}")


def edge_mark_at(
    mesh: Mesh,
    pixel: Pixel,
    camera: Camera,
    settling: Settling,
    *,
    held: int | None = None,
    shown: Shown | None = None,
) -> Mark:
    """The mark on the nearest edge of the faces under a pointer, or on a `held` edge wherever the
    pointer is; never on its ends."""
    if held is None:
        faces, _ = _faces_near(mesh, pixel, camera, shown)
        if len(faces) == 0:
            return _off(pixel)
        edge, share = _Borders(mesh, faces, np.array(pixel, dtype=np.float64), camera, shown).edge(
            anywhere=True
        )
        if edge < 0:
            return _off(pixel)
    else:
        edge, share = held, _share_under(mesh, held, np.array(pixel, dtype=np.float64), camera)
    return _on_edge(
        mesh, edge, min(max(share, NOT_THE_END), 1.0 - NOT_THE_END), settling, inner=True
    )


def _share_under(mesh: Mesh, edge: int, pointer: Floats, camera: Camera) -> float:
    """The share of an edge, from its lower vertex, that is nearest to a pointer on the screen."""
    ends = mesh.points[mesh.edges.ends[edge]]
    a, b = camera.project(ends)
    along = b - a
    if not np.isfinite(along).all():
        return 0.5
    s = float(np.clip((pointer - a) @ along / max(float(along @ along), NOT_ZERO), 0.0, 1.0))
    if camera.parallel:
        return s
    near, beyond = camera.depth(ends)
    return float(s / beyond / ((1.0 - s) / near + s / beyond))


def _on_guide(
    mesh: Mesh, near: _Borders, guide: Guide, faces: Ints, place: Floats | None, pixel: Pixel
) -> Mark:
    found = near.vertex(within=ON_GUIDE_PIXELS)
    if (
        found >= 0
        and abs(float(guide.plane.heights(mesh.points[found][None])[0])) <= ON_GUIDE * mesh.diagonal
    ):
        return _on_vertex(mesh, found)
    edge, _ = near.edge(anywhere=False)
    if edge >= 0:
        low, high = guide.plane.heights(mesh.points[mesh.edges.ends[edge]])
        if low * high < 0:
            return _on_edge(mesh, edge, float(low / (low - high)), UNSETTLED)
    if place is None:
        return _off(pixel)
    # The place under the pixel is off the guide by rounding: put it back.
    place = place - float(guide.plane.heights(place[None])[0]) * guide.plane.normal
    return Mark("face", FacePoint(face=int(faces[0]), at=_vector(place)), place, f"face {faces[0]}")


def _off(pixel: Pixel) -> Mark:
    return Mark("off", ScreenPoint(screen=(float(pixel[0]), float(pixel[1]))), None, "off the part")


def _faces_near(
    mesh: Mesh, pixel: Pixel, camera: Camera, shown: Shown | None
) -> tuple[Ints, Floats | None]:
    """The face under the pointer first, then those a few pixels round it; and the place under the
    pointer, if any."""
    turn = 2 * np.pi * np.arange(FEELERS) / FEELERS
    around = np.zeros((1 + FEELERS, 2))
    around[1:] = FEELER_PIXELS * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    origins, directions = camera.rays(np.array(pixel) + around, reach=reach_of(mesh, camera))
    hits = first_hits(mesh, origins, directions, shown)
    place = origins[0] + float(hits.distance[0]) * directions[0] if hits.face[0] >= 0 else None
    seen = hits.face[hits.face >= 0]
    _, order = np.unique(seen, return_index=True)
    return seen[np.sort(order)], place


class _Borders:
    """The borders of a few faces as the pointer meets them: one row a corner, with the edge that
    goes out from it."""

    def __init__(
        self, mesh: Mesh, faces: Ints, pointer: Floats, camera: Camera, shown: Shown | None
    ) -> None:
        self._mesh, self._camera, self._pointer, self._shown = mesh, camera, pointer, shown
        self._at, starts = row_positions(mesh.starts, faces)
        self._vertex = mesh.corners[self._at].astype(np.int64)
        self._next = next_in_row(starts)
        self._pixel = camera.project(mesh.points[self._vertex])
        after = self._pixel[self._next]
        with np.errstate(invalid="ignore"):
            local = self._pixel - np.repeat(self._pixel[starts[:-1]], np.diff(starts), axis=0)
            onward = local[self._next]
            area = 0.5 * np.abs(
                np.add.reduceat(
                    local[:, 0] * onward[:, 1] - local[:, 1] * onward[:, 0], starts[:-1]
                )
            )
        self._along = after - self._pixel
        # A face that is small on the screen keeps its inside in reach.
        self._small = np.repeat(
            SHARE_OF_FACE * np.sqrt(np.where(np.isfinite(area), area, np.inf)), np.diff(starts)
        )

    def vertex(self, *, within: float = VERTEX_PIXELS) -> int:
        """The nearest vertex in reach that can be seen, or -1."""
        gap = _length(self._pixel - self._pointer)
        rows = self._in_order(gap, np.minimum(within, self._small))
        k = self._first_seen(
            rows, self._mesh.points[self._vertex[rows]], [{int(self._vertex[r])} for r in rows]
        )
        return int(self._vertex[rows[k]]) if k >= 0 else -1

    def edge(self, *, anywhere: bool) -> tuple[int, float]:
        """The nearest edge in reach that can be seen and the share of it, from its lower vertex,
        under the pointer; or (-1, 0)."""
        with np.errstate(invalid="ignore", divide="ignore"):
            size = np.maximum((self._along**2).sum(axis=1), NOT_ZERO)
            s = np.clip(((self._pointer - self._pixel) * self._along).sum(axis=1) / size, 0.0, 1.0)
            gap = _length(self._pixel + s[:, None] * self._along - self._pointer)
            if not self._camera.parallel:
                # A share on the screen is not the share in space: undo the perspective.
                depth = self._camera.depth(self._mesh.points[self._vertex])
                near, beyond = depth, depth[self._next]
                s = s / beyond / ((1.0 - s) / near + s / beyond)
        rows = self._in_order(gap, np.inf if anywhere else np.minimum(EDGE_PIXELS, self._small))
        a, b = self._vertex[rows], self._vertex[self._next[rows]]
        points = self._mesh.points
        places = points[a] + s[rows, None] * (points[b] - points[a])
        k = self._first_seen(rows, places, [{int(p), int(q)} for p, q in zip(a, b, strict=True)])
        if k < 0:
            return -1, 0.0
        share = float(s[rows[k]])
        return int(self._mesh.edges.of_corner[self._at[rows[k]]]), share if a[k] < b[
            k
        ] else 1.0 - share

    def _in_order(self, gap: Floats, reach: Floats | float) -> Ints:
        """The rows within reach, the nearest first."""
        rows = np.flatnonzero(np.isfinite(gap) & (gap <= reach))
        return rows[np.argsort(gap[rows], kind="stable")]

    def _first_seen(self, rows: Ints, places: Floats, vertices: list[set[int]]) -> int:
        """Which of some places is the first that nothing lies before, or -1; `vertices` are those
        each belongs to."""
        if len(rows) == 0:
            return -1
        seen = look_at(self._mesh, self._camera, places, self._shown)
        for k in range(len(rows)):
            if seen.clear[k] or vertices[k] <= set(self._mesh.face(int(seen.first[k])).tolist()):
                return k
        return -1


def _length(vectors: Floats) -> Floats:
    return np.asarray(np.sqrt(np.einsum("ij,ij->i", vectors, vectors)))


def _on_vertex(mesh: Mesh, vertex: int) -> Mark:
    return Mark("vertex", VertexPoint(vertex=vertex), mesh.points[vertex], f"vertex {vertex}")


def _on_edge(
    mesh: Mesh, edge: int, share: float, settling: Settling, *, inner: bool = False
) -> Mark:
    """The mark at a share of an edge, settled on its stops; `inner` leaves out those at its
    ends."""
    low, high = (int(v) for v in mesh.edges.ends[edge])
    stop = False
    stops = None
    if settling.half:
        share, stop = 0.5, True
    elif not settling.free and (apart := _apart(mesh, edge, settling)) is not None:
        shares = stops_on(mesh, edge, settling)
        if shares is None:
            settled = min(nearest_multiple(share, apart), 1.0)
        else:
            if inner and len(shares) > 2:
                shares = shares[1:-1]
            settled = float(shares[int(np.argmin(np.abs(shares - share)))])
            ends = mesh.points[[low, high]]
            stops = ends[0] + shares[(shares > 0) & (shares < 1), None] * (ends[1] - ends[0])
        share, stop = (share, False) if inner and settled in (0.0, 1.0) else (settled, True)
        if share in (0.0, 1.0):
            return _on_vertex(mesh, low if share == 0.0 else high)
    length = float(np.linalg.norm(mesh.points[high] - mesh.points[low]))
    return Mark(
        "half" if share == 0.5 else "edge",
        EdgePoint(edge=(low, high), t=share),
        anchor_place(mesh, edge, share),
        "half of the edge" if share == 0.5 else f"edge · {100 * share:.1f} %",
        (low, high),
        share,
        length,
        stop,
        stops,
    )


def _apart(mesh: Mesh, edge: int, settling: Settling) -> float | None:
    """The share of an edge between two of its stops, or None if it has none."""
    if settling.every is None:
        return settling.step
    low, high = mesh.points[mesh.edges.ends[edge]]
    return settling.every / max(float(np.linalg.norm(high - low)), NOT_ZERO)


def stops_on(mesh: Mesh, edge: int, settling: Settling) -> Floats | None:
    """The shares of an edge where points settle; None if they don't, or where there are more than
    `MOST_STOPS`, which nobody could tell apart."""
    apart = _apart(mesh, edge, settling)
    if apart is None or apart * MOST_STOPS < 1.0:
        return None
    return stops_of(apart) if settling.every is None else _stops_by_length(apart)


def _stops_by_length(apart: float) -> Floats:
    """The shares where points settle at equal lengths from the lower vertex, and 1."""
    count = int((1 + ROUNDING) / apart)
    shares = np.arange(count + 1, dtype=np.float64) * apart
    return shares if count and abs(shares[-1] - 1.0) < NEGLIGIBLE else np.append(shares, 1.0)


def stops_of(step: float) -> Floats:
    """The shares where points settle: multiples of the step, each the closest double to its
    fraction, and 1.

    >>> stops_of(0.25).tolist()
    [0.0, 0.25, 0.5, 0.75, 1.0]
    """
    parts = round(1.0 / step)
    if abs(parts * step - 1.0) < NEGLIGIBLE:
        return np.arange(parts + 1) / parts
    return np.append(np.arange(int(1.0 / step) + 1) * step, 1.0)


def _vector(place: Floats) -> tuple[float, float, float]:
    return float(place[0]), float(place[1]), float(place[2])
