"""The mark: what the next point would sit on, for a pointer in a view."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from cutcore.arrays import Floats
from cutcore.mesh import Mesh
from cutcore.rays import caster_of
from cutcore.spots import EdgePoint, FacePoint, KnifePoint, ScreenPoint, VertexPoint, reach_of, seen_from
from cutcore.trace import anchor_place
from cutcore.view import Camera, Pixel

# Distances on the screen, in pixels, within which the pointer takes a vertex or an edge.
VERTEX_PIXELS = 10.0
EDGE_PIXELS = 8.0
# On a face that is small on the screen they shrink to this share of its size, so that its inside stays in reach.
SHARE_OF_FACE = 0.28
# Rays round the pointer find the part where the pointer is just beside its outline.
FEELERS = 8
FEELER_PIXELS = 7.0
# A place counts as hidden if something lies before it by more than this share of the part's diagonal.
HIDDEN_BEYOND = 1e-4

MarkKind = Literal["vertex", "edge", "half", "face", "off"]


class Settling(BaseModel):
    """How the pointer settles: `step` is the share between stops on an edge, null for none; `free` suspends
    settling on stops and vertices."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    step: float | None = Field(default=0.1, gt=0.0, le=1.0)
    free: bool = False
    half: bool = False


@dataclass(frozen=True)
class Mark:
    """What is under the pointer.

    `point` is the knife point that a click would choose. On edges `ends` are the vertices as the share
    counts (from the lower one), `stop` whether it sits on a stop, `stops` all stops of the edge as places.
    """

    kind: MarkKind
    point: KnifePoint
    place: Floats | None
    words: str
    ends: tuple[int, int] | None = None
    share: float | None = None
    length: float | None = None
    stop: bool = False
    stops: Floats | None = None


def mark_at(mesh: Mesh, pixel: Pixel, camera: Camera, settling: Settling) -> Mark:
    """The mark for a pointer at a pixel: the nearest vertex in reach, else the nearest edge, else the face."""
    faces, origin, direction, distance = _faces_near(mesh, pixel, camera)
    if len(faces) == 0:
        return Mark("off", ScreenPoint(screen=(float(pixel[0]), float(pixel[1]))), None, "off the part")
    pointer = np.array(pixel, dtype=np.float64)
    if not settling.free and not settling.half:
        found = _nearest_vertex(mesh, faces, pointer, camera)
        if found >= 0:
            return _on_vertex(mesh, found)
    edge, share = _nearest_edge(mesh, faces, pointer, camera, anywhere=settling.half)
    if edge >= 0:
        return _on_edge(mesh, edge, share, settling)
    if not np.isfinite(distance):
        return Mark("off", ScreenPoint(screen=(float(pixel[0]), float(pixel[1]))), None, "off the part")
    place = origin + distance * direction
    face = int(faces[0])
    return Mark("face", FacePoint(face=face, at=_vector(place)), place, f"face {face}")


def _faces_near(mesh: Mesh, pixel: Pixel, camera: Camera) -> tuple[np.ndarray, Floats, Floats, float]:
    """The face under the pointer first, then those a few pixels round it; and the ray to the first."""
    turn = 2 * np.pi * np.arange(FEELERS) / FEELERS
    around = np.array(pixel) + FEELER_PIXELS * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    reach = reach_of(mesh, camera)
    rays = [camera.ray(p, reach=reach) for p in (np.array(pixel), *around)]
    hits = caster_of(mesh).first(np.array([r[0] for r in rays]), np.array([r[1] for r in rays]))
    distance = float(hits.distance[0]) if hits.face[0] >= 0 else np.inf
    seen = hits.face[hits.face >= 0]
    _, order = np.unique(seen, return_index=True)
    return seen[np.sort(order)], rays[0][0], rays[0][1], distance


def _reach(corners: Floats, most: float) -> float:
    x, y = (corners - corners[0]).T
    area = 0.5 * abs(float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum()))
    return min(most, SHARE_OF_FACE * np.sqrt(area)) if np.isfinite(area) else most


@dataclass(frozen=True, eq=False)
class _Near:
    """Places in reach of the pointer, the nearest first, with the vertices each belongs to."""

    gap: list[float]
    place: list[Floats]
    vertices: list[tuple[int, ...]]
    share: list[float]

    def first_seen(self, mesh: Mesh, camera: Camera) -> int:
        """The number of the nearest place that nothing lies before, or -1."""
        if not self.gap:
            return -1
        order = np.argsort(self.gap, kind="stable")
        places = np.array(self.place)[order]
        origins, sights, depth = seen_from(mesh, camera, places)
        hits = caster_of(mesh).first(origins, sights)
        clear = hits.distance >= depth - HIDDEN_BEYOND * mesh.diagonal
        for k, number in enumerate(order.tolist()):
            if clear[k] or set(self.vertices[number]) <= set(mesh.face(int(hits.face[k])).tolist()):
                return number
        return -1


def _nearest_vertex(mesh: Mesh, faces: np.ndarray, pointer: Floats, camera: Camera) -> int:
    near = _Near([], [], [], [])
    for face in faces.tolist():
        loop = mesh.face(face)
        flat = camera.project(mesh.points[loop])
        gap = np.linalg.norm(flat - pointer, axis=1)
        gap = np.where(np.isfinite(gap), gap, np.inf)
        for k in np.flatnonzero(gap <= _reach(flat, VERTEX_PIXELS)).tolist():
            near.gap.append(float(gap[k]))
            near.place.append(mesh.points[loop[k]])
            near.vertices.append((int(loop[k]),))
    found = near.first_seen(mesh, camera)
    return near.vertices[found][0] if found >= 0 else -1


def _nearest_edge(mesh: Mesh, faces: np.ndarray, pointer: Floats, camera: Camera, *, anywhere: bool) -> tuple[int, float]:
    """The nearest edge in reach and the share of it (from its lower vertex) under the pointer, or (-1, 0)."""
    near = _Near([], [], [], [])
    for face in faces.tolist():
        loop = mesh.face(face)
        flat = camera.project(mesh.points[loop])
        depth = camera.depth(mesh.points[loop]) if not camera.parallel else np.ones(len(loop))
        after = np.roll(flat, -1, axis=0)
        along = after - flat
        with np.errstate(invalid="ignore", divide="ignore"):
            s = np.clip(((pointer - flat) * along).sum(axis=1) / np.maximum((along**2).sum(axis=1), 1e-300), 0.0, 1.0)
            gap = np.linalg.norm(flat + s[:, None] * along - pointer, axis=1)
            # A share on the screen is not the share in space: undo the perspective.
            beyond = np.roll(depth, -1)
            share = s / beyond / ((1.0 - s) / depth + s / beyond)
        gap = np.where(np.isfinite(gap), gap, np.inf)
        in_reach = np.isfinite(gap) if anywhere else gap <= _reach(flat, EDGE_PIXELS)
        for k in np.flatnonzero(in_reach).tolist():
            a, b = int(loop[k]), int(loop[(k + 1) % len(loop)])
            near.gap.append(float(gap[k]))
            near.place.append(mesh.points[a] + share[k] * (mesh.points[b] - mesh.points[a]))
            near.vertices.append((a, b))
            near.share.append(float(share[k]))
    found = near.first_seen(mesh, camera)
    if found < 0:
        return -1, 0.0
    a, b = near.vertices[found]
    share_here = near.share[found]
    return mesh.edges.between(a, b), share_here if a < b else 1.0 - share_here


def _on_vertex(mesh: Mesh, vertex: int) -> Mark:
    return Mark("vertex", VertexPoint(vertex=vertex), mesh.points[vertex], f"vertex {vertex}")


def _on_edge(mesh: Mesh, edge: int, share: float, settling: Settling) -> Mark:
    low, high = (int(v) for v in mesh.edges.ends[edge])
    stop = False
    stops = None
    if settling.half:
        share, stop = 0.5, True
    elif settling.step is not None and not settling.free:
        shares = stops_of(settling.step)
        share, stop = float(shares[int(np.argmin(np.abs(shares - share)))]), True
        if share in (0.0, 1.0):
            return _on_vertex(mesh, low if share == 0.0 else high)
        ends = mesh.points[[low, high]]
        stops = ends[0] + shares[1:-1, None] * (ends[1] - ends[0])
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


def stops_of(step: float) -> Floats:
    """The shares where points settle: multiples of the step, each the closest double to its fraction, and 1.

    >>> stops_of(0.25).tolist()
    [0.0, 0.25, 0.5, 0.75, 1.0]
    """
    parts = round(1.0 / step)
    if abs(parts * step - 1.0) < 1e-9:
        return np.arange(parts + 1) / parts
    return np.append(np.arange(int(1.0 / step) + 1) * step, 1.0)


def _vector(place: Floats) -> tuple[float, float, float]:
    return float(place[0]), float(place[1]), float(place[2])
