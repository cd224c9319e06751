"""A pocket: what lies inside outlines is pushed in along the line of sight, to a floor."""

from __future__ import annotations

from typing import Literal

import numpy as np
import shapely

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.camera import Camera
from cutcore.geometry.vectors import NOT_ZERO, units
from cutcore.mesh.result import Result
from cutcore.mesh.submesh import then
from cutcore.notes import position
from cutcore.queries.ray_caster import caster_of
from cutcore.queries.visibility import reach_of
from cutcore.reshape.building.walls import Region, once_round, walled

Floor = Literal["as the surface", "flat"]

# A ray begins so far behind the surface it leaves, as a share of the part's diagonal.
CLEAR_OF_SURFACE = 1e-6
# The cosine between a side's normal and the line of sight above which it recedes.
RECEDES = 1e-6


def pocketed(cut: Result, inside: Bools, camera: Camera, depth: float, floor: Floor) -> Result:
    """What was cut along outlines, with the faces (F,) inside pushed in by a depth along the lines
    of sight. They are picked: the floor.

    A flat floor lies that deep behind the foremost of them, square to the sight; else every vertex
    goes as deep. Raises StepError, with the place, where the floor would come out, or come before
    what it is to lie behind."""
    mesh = cut.mesh
    if not inside.any():
        raise StepError("nothing of the part lies inside the outline", where="curves")
    region = Region.of(mesh, inside)
    once_round(region)
    _refuse_overhanging(region, inside, camera)
    vertices = np.unique(region.vertex)
    places = mesh.points[vertices]
    sights = camera.sights(places)
    if floor == "flat":
        deep = camera.depth(places)
        by = deep.min() + depth - deep
        if (by <= 0).any():
            at = places[int(np.argmin(by))]
            words = "the floor would lie before the surface there: make the pocket deeper"
            raise StepError(words, where="depth", elements=(position(at),))
        shift = sights * (by / np.maximum(sights @ camera.forward, NOT_ZERO))[:, None]
    else:
        shift = sights * depth
    _stays_inside(region, vertices, places, shift, camera)
    moved = np.zeros((mesh.vertex_count, 3))
    moved[vertices] = shift
    made = walled(region, moved, same_surface=False)
    return Result(made.mesh, then(cut.origin, made.origin), made.picked, (*cut.notes, *made.notes))


def _refuse_overhanging(region: Region, inside: Bools, camera: Camera) -> None:
    """Raise StepError where the part recedes behind the border of what is pushed in: the floor would
    come out there."""
    mesh = region.mesh
    edges = np.unique(mesh.edges.of_corner[region.corner[region.rim]])
    pairs = mesh.edges.faces[edges]
    beside = np.where(inside[pairs[:, 0]], pairs[:, 1], pairs[:, 0])
    edges, beside = edges[beside >= 0], beside[beside >= 0]
    middle = mesh.points[mesh.edges.ends[edges]].mean(axis=1)
    sights = camera.sights(middle)
    receding = np.einsum("ij,ij->i", units(mesh.face_normals(beside)), sights) > RECEDES
    if receding.any():
        at = middle[int(np.argmax(receding))]
        words = "the side recedes below the edge that the pocket reaches: the floor would come out there"
        raise StepError(words, where="curves", elements=(position(at),))


def _stays_inside(
    region: Region, vertices: Ints, places: Floats, shift: Floats, camera: Camera
) -> None:
    """Raise StepError where something lies before the floor: behind a vertex that is pushed in, or
    before it a vertex of another surface. What lies straight behind the border is a side that the
    floor comes out at: it is opened there."""
    mesh, faces = region.mesh, region.faces
    far = np.linalg.norm(shift, axis=1)
    clear = CLEAR_OF_SURFACE * mesh.diagonal
    ways = shift / np.maximum(far, NOT_ZERO)[:, None]
    hits = caster_of(mesh).first(places + clear * ways, ways)
    beyond = hits.distance + clear
    # Vertices of surfaces behind it, against the floor before them.
    other = np.setdiff1d(np.flatnonzero(mesh.used), vertices)
    rim = np.stack([region.vertex[region.rim], region.ahead[region.rim]], axis=1)
    seen, ends = camera.project(mesh.points[other]), camera.project(mesh.points[rim.ravel()])
    at_rim = _lies_on(seen, ends[::2], ends[1::2], CLEAR_OF_SURFACE * np.ptp(ends, axis=0).max())
    other, seen = other[~at_rim], seen[~at_rim]
    origins, sights = camera.rays(seen, reach=reach_of(mesh, camera))
    first = caster_of(mesh).first(origins, sights)
    behind = np.einsum("ij,ij->i", mesh.points[other] - origins, sights) - first.distance
    chosen = np.zeros(mesh.face_count, dtype=bool)
    chosen[faces] = True
    under = np.isin(first.face, faces) & (behind > clear) & (behind <= far.max())
    if (beyond <= far).any() or under.any():
        room = min(float(beyond.min(initial=np.inf)), float(behind[under].min(initial=np.inf)))
        at = (
            places[int(np.argmin(beyond - far))]
            if (beyond <= far).any()
            else mesh.points[other[int(np.argmax(under))]]
        )
        words = f"the pocket would come out on another side: there is room for {room:.6g}"
        raise StepError(words, where="depth", elements=(position(at),))


def _lies_on(pixels: Floats, start: Floats, end: Floats, within: float) -> Bools:
    """Which pixels (n, 2) lie on one of some stretches (k, 2)."""
    stretches = shapely.linestrings(np.stack([start, end], axis=1))
    seen = np.flatnonzero(np.isfinite(pixels).all(axis=1))
    near = shapely.STRtree(stretches).query(
        shapely.points(pixels[seen]), predicate="dwithin", distance=within
    )
    found = np.zeros(len(pixels), dtype=bool)
    found[seen[near[0]]] = True
    return found
