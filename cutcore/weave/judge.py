"""What a weave did: faces that would fold, how far the surface moved, how far edges leave the
line."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import (
    Bools,
    Floats,
    Ints,
    cross,
    next_in_row,
    owner_of,
    row_positions,
    starts_of,
)
from cutcore.geometry.polygons import distance_to_each_segment
from cutcore.kernels import nearest_round_all, rows_beside
from cutcore.mesh.mesh import newell
from cutcore.mesh.triangles import Triangles, triangulate
from cutcore.notes import Element, position
from cutcore.weave.chain import Chain
from cutcore.weave.even import Evened, faces_of
from cutcore.weave.ground import Ground, boxes_of
from cutcore.weave.rows import Rows

# So many places of what is wrong are named.
MOST_NAMED = 50


@dataclass(frozen=True, eq=False)
class Made:
    """The faces that a weave changed or made, (n,) of the ground and after them the quads beside
    its lines, as rows of vertices; and the faces of the old ground they lie on."""

    places: Floats
    faces: Ints
    starts: Ints
    corners: Ints
    parents: Ints

    @staticmethod
    def of(ground: Ground, rows: Rows, even: Evened) -> Made:
        starts, corners = faces_of(ground, rows)
        moved = np.ones(len(even.places), dtype=bool)
        count = len(ground.vertices)
        moved[:count] = (even.places[:count] != ground.points).any(axis=1)
        changed = np.logical_or.reduceat(moved[corners], starts[:-1])
        changed[: len(ground.faces)] |= np.logical_or.reduceat(
            rows.corners != ground.corners, ground.starts[:-1]
        )
        changed[len(ground.faces) :] = True
        faces = np.flatnonzero(changed)
        parents = np.concatenate([np.arange(len(ground.faces)), rows.parents])[faces]
        return Made(even.places, faces, starts, corners, parents)

    def folded(self, ground: Ground) -> tuple[int, tuple[Element, ...]]:
        """How many faces would be turned over, or be quads with a corner turned in or over, whose
        place on the old ground was not; and where the first of them are."""
        at, starts = row_positions(self.starts, self.faces)
        now = _turned(self.places[self.corners[at]], starts, ground.normals[self.parents])
        at, starts = row_positions(ground.starts, self.parents)
        before = _turned(ground.points[ground.corners[at]], starts, ground.normals[self.parents])
        bad = self.faces[now & ~before]
        middles = self._middles(bad[:MOST_NAMED]) if len(bad) else ()
        return len(bad), tuple(position(middle) for middle in middles)

    def _middles(self, faces: Ints) -> Floats:
        at, starts = row_positions(self.starts, faces)
        total = np.add.reduceat(self.places[self.corners[at]], starts[:-1])
        return np.asarray(total / np.diff(starts)[:, None])

    def moved(self, ground: Ground) -> tuple[float, float, Floats]:
        """How far the surface moves at most, both ways: as a share of the edges there, as a length,
        and where. Looked at in the old corners, the middles of new edges, and of all triangles."""
        at, starts = row_positions(self.starts, self.faces)
        cells = triangulate(self.places, starts, self.corners[at])
        found = (self._away_from(ground, cells), self._left(ground, cells))
        return max(found, key=lambda one: one[0])

    def _away_from(self, ground: Ground, cells: Triangles) -> tuple[float, float, Floats]:
        at, starts = row_positions(self.starts, self.faces)
        corners = self.corners[at]
        ahead = corners[next_in_row(starts)]
        # The corners themselves were put on it; each side is looked at once.
        once = np.flatnonzero(corners < ahead)
        halves = 0.5 * (self.places[corners[once]] + self.places[ahead[once]])
        looked = np.concatenate([halves, self.places[cells.corners].mean(axis=1)])
        of = np.concatenate([owner_of(starts)[once], cells.face])
        found, _, _ = nearest_round_all(
            *ground.surface,
            looked,
            self.parents[of],
        )
        size = _sides(ground.points[ground.corners], ground.starts)[self.parents[of]]
        return _greatest(looked, found, size)

    def _left(self, ground: Ground, cells: Triangles) -> tuple[float, float, Floats]:
        """The old ground's distance from the new one."""
        at, starts = row_positions(self.starts, self.faces)
        corners = self.corners[at]
        tri_starts = starts_of(np.bincount(cells.face, minlength=len(self.faces)))
        order = np.argsort(corners, kind="stable")
        rows = starts_of(np.bincount(corners, minlength=len(self.places)))
        beside = rows_beside(
            starts, corners, rows, owner_of(starts)[order], ground.charts[self.parents]
        )
        old = self.faces[self.faces < len(ground.faces)]
        new_starts = starts
        at, starts = row_positions(ground.starts, old)
        own = ground.corners[at]
        triangles, rows_of_them = row_positions(ground.triangles[1], old)
        middles = ground.triangle_places[triangles].mean(axis=1)
        # Each vertex is looked at once, from one of its faces.
        face = np.full(len(ground.vertices), -1)
        face[own] = owner_of(starts)
        vertices = np.flatnonzero(face >= 0)
        looked = np.concatenate([ground.points[vertices], middles])
        of = np.concatenate([face[vertices], owner_of(rows_of_them)])
        found, _, _ = nearest_round_all(
            np.ascontiguousarray(self.places[cells.corners]),
            tri_starts,
            boxes_of(self.places[corners], new_starts),
            *beside,
            looked,
            of,
        )
        size = _sides(ground.points[ground.corners], ground.starts)[old[of]]
        return _greatest(looked, found, size)


def off_the_line(chains: list[Chain], alongs: list[Floats]) -> tuple[float, Floats]:
    """How far the lines lie at most from the edges that became them, and where; `alongs` says how
    far along the vertices of each are in the end."""
    most, where = 0.0, np.zeros(3)
    for chain, along in zip(chains, alongs, strict=True):
        if not chain.drawn or len(chain.line) < 3:
            continue
        ends = chain.places(along)
        inner = chain.lengths[1:-1]
        k = np.clip(np.searchsorted(along, inner, side="right") - 1, 0, len(along) - 2)
        away = distance_to_each_segment(chain.line[1:-1], ends[k], ends[k + 1])
        at = int(np.argmax(away))
        if away[at] > most:
            most, where = float(away[at]), chain.line[1 + at]
    return most, where


def _greatest(looked: Floats, found: Floats, size: Floats) -> tuple[float, float, Floats]:
    away = np.linalg.norm(looked - found, axis=1)
    k = int(np.argmax(away / size))
    return float(away[k] / size[k]), float(away.max()), looked[k]


def _sides(places: Floats, starts: Ints) -> Floats:
    """The mean side (n,) of faces given as rows of places."""
    length = np.linalg.norm(places[next_in_row(starts)] - places, axis=1)
    return np.asarray(np.add.reduceat(length, starts[:-1]) / np.diff(starts))


def _turned(places: Floats, starts: Ints, normals: Floats) -> Bools:
    """Which faces, as rows of places, are turned over as seen along normals (n, 3), or are quads
    with a corner that is turned in or over."""
    own = newell(places, starts)
    over = np.einsum("ij,ij->i", own, normals) <= 0
    following = next_in_row(starts)
    ahead = places[following] - places
    back = np.empty_like(ahead)
    back[following] = -ahead
    sine = np.einsum("ij,ij->i", cross(ahead, back), own[owner_of(starts)])
    return np.asarray(
        over | ((np.minimum.reduceat(sine, starts[:-1]) <= 0) & (np.diff(starts) == 4))
    )
