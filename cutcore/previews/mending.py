"""What turning faces into quads adds to a plan: thin lines, and how good the quads are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cutcore.geometry.arrays import Bools, Floats
from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Result
from cutcore.queries.corner_forms import corner_forms
from cutcore.queries.visibility import look_at

# Of more edges evenly chosen ones are shown.
MOST_SHOWN = 6000

# They are looked for so much nearer to the eye, as a share of the part.
NEARER = 2e-3


@dataclass(frozen=True, eq=False)
class Mending:
    """What is added, and the worst of the quads that were changed or made.

    edges     (n, 2, 3) the edges added, as pairs of places
    far       (n,)      which of them a view does not see
    quads     how many of the touched faces are quads
    angle     the smallest angle of their corners in degrees, and where it is
    jacobian  the smallest scaled Jacobian, and where its quad is
    median    the scaled Jacobian that half of the quads have at least
    """

    edges: Floats
    far: Bools
    quads: int
    angle: float
    angle_at: Floats
    jacobian: float
    jacobian_at: Floats
    median: float


def mending_of(before: Mesh, result: Result, camera: Camera | None) -> Mending:
    """What turning the faces of a result into quads added, as a camera sees it."""
    mesh = result.mesh
    touched = np.ones(mesh.face_count, dtype=bool)
    touched[result.origin.kept[result.origin.kept >= 0]] = False
    quads = np.flatnonzero(touched & (mesh.sizes == 4))
    edges = mesh.points[result.mended[:: 1 + len(result.mended) // MOST_SHOWN]]
    far = np.zeros(len(edges), dtype=bool)
    if camera is not None and len(edges):
        # A little before the surface there is, which may move by it.
        middle = edges.mean(axis=1)
        seen = look_at(before, camera, middle - NEARER * before.diagonal * camera.sights(middle))
        far = ~(seen.clear & seen.before_eye)
    if len(quads) == 0:
        return Mending(edges, far, 0, 90.0, np.zeros(3), 1.0, np.zeros(3), 1.0)
    sine, angle, _ = corner_forms(mesh, quads)
    sine, angle = sine.reshape(-1, 4), angle.reshape(-1, 4)
    worst, sharpest = int(np.argmin(sine.min(axis=1))), int(np.argmin(angle.min(axis=1)))
    corner = int(np.argmin(angle[sharpest]))
    return Mending(
        edges,
        far,
        len(quads),
        float(angle[sharpest, corner]),
        mesh.points[mesh.face(int(quads[sharpest]))[corner]],
        float(sine[worst].min()),
        mesh.points[mesh.face(int(quads[worst]))].mean(axis=0),
        float(np.median(sine.min(axis=1))),
    )
