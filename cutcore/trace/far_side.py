"""What of a trace a view does not see."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.queries.ray_caster import caster_of
from cutcore.queries.visibility import HIDDEN_BEYOND, seen_from
from cutcore.trace.trace import Trace


def with_far_side(mesh: Mesh, trace: Trace, camera: Camera) -> Trace:
    """A trace that knows which of its spans a view does not see, for tools that have no view of their own.

    A span is seen where its middle is: its face looks to the eye and nothing lies before it. Spans along edges are
    left as they are.
    """
    inside = np.flatnonzero(trace.face >= 0)
    far = trace.far.copy()
    if len(inside):
        middle = trace.place[trace.ends[inside]].mean(axis=1)
        origins, sights, depth = seen_from(mesh, camera, middle)
        hits = caster_of(mesh).first(origins, sights)
        clear = (hits.face == trace.face[inside]) | (hits.distance >= depth - HIDDEN_BEYOND * mesh.diagonal)
        facing = np.einsum("ij,ij->i", mesh.face_normals(trace.face[inside]), sights) < 0
        far[inside] = ~(clear & facing & (depth > 0))
    return replace(trace, far=far)
