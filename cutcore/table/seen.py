"""Which of several parts is seen at a pixel, and which of their vertices near one."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.geometry.camera import Camera, Pixel
from cutcore.geometry.placement import Placement
from cutcore.mesh.mesh import Mesh
from cutcore.queries.ray_caster import caster_of


@dataclass(frozen=True)
class Standing:
    """A part by its `number`, where it stands, the lowest and highest corner of its `box` (2, 3) in
    its own coordinates, and its mesh, which is asked for only where it may be seen."""

    number: int
    placement: Placement
    box: Floats
    mesh: Callable[[], Mesh]


def first_seen(
    parts: Iterable[Standing], hand: Placement, camera: Camera, pixel: Pixel
) -> int | None:
    """The number of the part that is seen first at a pixel of a view, which is in the coordinates of
    a part that stands at `hand`; None if none is."""
    origin, way = camera.ray(pixel, reach=0.0)
    start, way = hand.places(origin[None])[0], hand.rotation @ way
    nearest: tuple[float, int] | None = None
    for part in parts:
        local = part.placement.local(start[None])
        along = (part.placement.rotation.T @ way)[None]
        back = 0.0
        if camera.parallel:
            # A parallel view sees what lies behind its eye, too.
            size = float(np.linalg.norm(part.box[1] - part.box[0]))
            back = size + float(np.linalg.norm(local[0] - part.box.mean(axis=0)))
            local = local - back * along
        if not _meets_box(local[0], along[0], part.box):
            continue
        hit = float(caster_of(part.mesh()).first(local, along).distance[0]) - back
        if np.isfinite(hit) and (nearest is None or hit < nearest[0]):
            nearest = (hit, part.number)
    return None if nearest is None else nearest[1]


def _meets_box(origin: Floats, way: Floats, box: Floats) -> bool:
    """Whether a ray meets a box (2, 3)."""
    with np.errstate(divide="ignore", invalid="ignore"):
        ends = np.sort((box - origin) / way, axis=0)
    enters, leaves = np.fmax.reduce(ends[0]), np.fmin.reduce(ends[1])
    return bool(leaves >= max(enters, 0.0))


def vertex_near(
    mesh: Mesh, placement: Placement, hand: Placement, camera: Camera, pixel: Pixel
) -> tuple[float, Pixel, Floats]:
    """The vertex of a part that is seen nearest to a pixel: how many pixels away (infinity if none
    is seen), where on the screen, and its place (3,) in the coordinates of the part at `hand`, which
    the view is in."""
    places = hand.local(placement.places(mesh.points[mesh.used]))
    pixels = camera.project(places)
    away = np.nan_to_num(np.linalg.norm(pixels - np.array(pixel), axis=1), nan=np.inf)
    k = int(np.argmin(away))
    x, y = pixels[k].tolist()
    return float(away[k]), (x, y), places[k]
