"""What a view sees of a part."""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import Floats
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh

# A place counts as hidden if something lies before it by more than this share of the part's diagonal.
HIDDEN_BEYOND = 1e-4


def reach_of(mesh: Mesh, camera: Camera) -> float:
    """How far behind the eye of a parallel view the whole part begins at the most."""
    if camera.from_eye:
        return 0.0
    return mesh.diagonal + float(np.linalg.norm(camera.eye - mesh.box.mean(axis=0)))


def seen_from(mesh: Mesh, camera: Camera, places: Floats) -> tuple[Floats, Floats, Floats]:
    """Lines of sight to places (N, 3): origins (N, 3), unit directions (N, 3) and how far (N,) the places lie along them."""
    sights = camera.sights(places)
    if camera.parallel:
        away = camera.depth(places) + reach_of(mesh, camera)
        return places - sights * away[:, None], sights, away
    origins = np.broadcast_to(camera.eye, places.shape)
    return origins, sights, np.einsum("ij,ij->i", places - origins, sights)
