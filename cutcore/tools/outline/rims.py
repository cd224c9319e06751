"""The rims that projected outlines leave: which edges they are, and where along which outline each
lies."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, starts_of
from cutcore.geometry.camera import Camera
from cutcore.geometry.polygons import distance_to_segments
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.mesh import Mesh


@dataclass(frozen=True, eq=False)
class Loops:
    """Closed outlines as a camera sees them: `start` and `end (S, 2)` are their stretches in pixels,
    one outline after the other; `following (S,)` the stretch after each."""

    camera: Camera
    start: Floats
    end: Floats
    following: Ints

    @staticmethod
    def of(camera: Camera, loops: list[Floats]) -> Loops:
        first = starts_of(np.array([len(loop) for loop in loops], dtype=np.int64))
        following = np.concatenate(
            [
                begin + np.roll(np.arange(len(loop)), -1)
                for begin, loop in zip(first.tolist(), loops, strict=False)
            ]
        )
        start = np.concatenate(loops)
        return Loops(camera, start, start[following], following)

    def nearest(self, pixels: Floats) -> tuple[Ints, Floats]:
        """The stretch (n,) that lies nearest to each pixel (n, 2), and how far (n,) it is."""
        gaps = distance_to_segments(pixels, self.start, self.end)
        found = np.argmin(gaps, axis=1)
        return found, gaps[np.arange(len(pixels)), found]

    def shares(self, stretch: Ints, pixels: Floats) -> Floats:
        """Where along stretches (n,) pixels (n, 2) lie, 0 to 1."""
        along = self.end[stretch] - self.start[stretch]
        away = pixels - self.start[stretch]
        size = np.maximum((along**2).sum(axis=1), NOT_ZERO)
        return np.clip((away * along).sum(axis=1) / size, 0.0, 1.0)


@dataclass(frozen=True, eq=False)
class Rim:
    """Edges between what is inside outlines and what is not, each along one stretch of an outline.

    edge     (n,)    numbers of the edges
    forward  (n, 2)  their vertices, the way the outline runs
    ends     (n, 2)  at which station each of them lies
    depth    (n,)    how far their middles lie from the eye
    outside  (n,)    the face beside that stays
    enters   (n,)    whether that face looks towards the eye
    columns          of stations at which the rim runs along the line of sight, down a face that is
                     seen edge-on, its vertices there, the nearest to the eye first
    """

    edge: Ints
    forward: Ints
    ends: Ints
    depth: Floats
    outside: Ints
    enters: Bools
    columns: dict[int, list[int]]


@dataclass(frozen=True, eq=False)
class Stations:
    """The places along outlines at which a rim has vertices: station k is at `share (k,)` of its
    stretch (k,), in the order of these; the end of a stretch is the first station of the next."""

    stretch: Ints
    share: Floats
    following: Ints


def rim_edges(mesh: Mesh, inside: Bools) -> Ints:
    """The edges (n,) that have a face inside (F,) and one outside."""
    pairs = mesh.edges.faces
    both = inside[np.maximum(pairs, 0)] & (pairs >= 0)
    return np.flatnonzero((pairs >= 0).all(axis=1) & (both[:, 0] != both[:, 1]))


def rim_of(
    mesh: Mesh, inside: Bools, edges: Ints, loops: Loops, weld: float
) -> tuple[Rim, Stations]:
    """Some rim edges laid along the outlines they came from."""
    ends = mesh.edges.ends[edges]
    camera = loops.camera
    flat = camera.project(mesh.points[ends].reshape(-1, 3)).reshape(-1, 2, 2)
    stretch, _ = loops.nearest(flat.mean(axis=1))
    share = np.stack([loops.shares(stretch, flat[:, k]) for k in (0, 1)], axis=1)
    backward = share[:, 0] > share[:, 1]
    forward = np.where(backward[:, None], ends[:, ::-1], ends)
    share = np.where(backward[:, None], share[:, ::-1], share)
    length = np.linalg.norm(loops.end - loops.start, axis=1)
    depth = camera.depth(mesh.points[ends].mean(axis=1))
    pixel = camera.scale if camera.parallel else camera.scale / np.maximum(depth, NOT_ZERO)
    # Stations closer than the weld tolerance are one.
    room = weld * np.max(pixel, initial=0.0) / np.maximum(length, NOT_ZERO)
    stations, number = _stations(stretch, share, room, loops.following)
    narrow = number[:, 0] == number[:, 1]
    columns: dict[int, list[int]] = {}
    for station, pair in zip(number[narrow, 0].tolist(), ends[narrow].tolist(), strict=True):
        columns.setdefault(station, []).extend(pair)
    for station, vertices in columns.items():
        there = np.unique(vertices)
        columns[station] = there[np.argsort(camera.depth(mesh.points[there]))].tolist()
    along = np.flatnonzero(~narrow)
    edges, ends = edges[along], ends[along]
    pairs = mesh.edges.faces[edges]
    outside = np.where(inside[pairs[:, 0]], pairs[:, 1], pairs[:, 0])
    sights = camera.sights(mesh.points[ends].mean(axis=1))
    facing = np.einsum("ij,ij->i", mesh.face_normals(outside), sights) < 0
    rim = Rim(edges, forward[along], number[along], depth[along], outside, facing, columns)
    return rim, stations


def _stations(stretch: Ints, share: Floats, room: Floats, following: Ints) -> tuple[Stations, Ints]:
    """The stations that ends at shares (n, 2) of stretches (n,) make, with `room` (S,) the share
    within which two are one; and which of them (n, 2) each end is at."""
    of = np.repeat(stretch, 2)
    at = share.ravel().copy()
    # The end of a stretch is the beginning of the next.
    last = at >= 1.0 - room[of]
    of = np.where(last, following[of], of)
    at[last] = 0.0
    at[at <= room[of]] = 0.0
    order = np.lexsort((at, of))
    fresh = np.ones(len(order), dtype=bool)
    fresh[1:] = (of[order][1:] != of[order][:-1]) | (
        at[order][1:] - at[order][:-1] > room[of[order][1:]]
    )
    number = np.empty(len(order), dtype=np.int64)
    number[order] = np.cumsum(fresh) - 1
    heads = order[fresh]
    return Stations(of[heads], at[heads], _next_station(of[heads], following)), number.reshape(
        -1, 2
    )


def _next_station(stretch: Ints, following: Ints) -> Ints:
    """The station after each (k,), given the stretches (k,) they lie on, ascending."""
    count = len(stretch)
    found = np.arange(1, count + 1)
    first = {int(s): k for k, s in reversed(list(enumerate(stretch.tolist())))}
    for k in range(count):
        if k + 1 < count and stretch[k + 1] == stretch[k]:
            continue
        # The next stretch that has a station; the outline comes back to this one at the latest.
        onward = int(following[stretch[k]])
        while onward not in first:
            onward = int(following[onward])
        found[k] = first[onward]
    return found
