"""What a view sees of a part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.queries.ray_caster import Shown, first_hits

# A place counts as hidden if something lies before it by more than this share of the part's
# diagonal.
HIDDEN_BEYOND = 1e-4


def reach_of(mesh: Mesh, camera: Camera) -> float:
    """How far behind the eye of a parallel view the whole part begins at the most."""
    if camera.from_eye:
        return 0.0
    return mesh.diagonal + float(np.linalg.norm(camera.eye - mesh.box.mean(axis=0)))


def seen_from(mesh: Mesh, camera: Camera, places: Floats) -> tuple[Floats, Floats, Floats]:
    """Lines of sight to places (N, 3): origins (N, 3), unit directions (N, 3) and how far (N,) the
    places lie along them."""
    sights = camera.sights(places)
    if camera.parallel:
        away = camera.depth(places) + reach_of(mesh, camera)
        return places - sights * away[:, None], sights, away
    origins = np.broadcast_to(camera.eye, places.shape)
    return origins, sights, np.einsum("ij,ij->i", places - origins, sights)


@dataclass(frozen=True, eq=False)
class Sights:
    """Places (N, 3) as a view sees them: `sights (N, 3)` unit directions to them, the `first (N,)`
    face each line of sight meets, -1 for none; and which are `clear (N,)`: nothing lies before
    them."""

    sights: Floats
    first: Ints
    clear: Bools
    before_eye: Bools


def look_at(
    mesh: Mesh, camera: Camera, places: Floats, shown: Shown | None = None, own: Ints | None = None
) -> Sights:
    """Look at places of a part, of which only the `shown` faces are there; `own (N,)` are the faces
    they lie in, which never lie before them."""
    origins, sights, depth = seen_from(mesh, camera, places)
    hits = first_hits(mesh, origins, sights, shown)
    clear = hits.distance >= depth - HIDDEN_BEYOND * mesh.diagonal
    if own is not None:
        clear |= hits.face == own
    return Sights(sights, hits.face, clear, depth > 0)
