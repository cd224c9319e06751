"""What of a trace a view does not see."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.geometry.camera import Camera
from cutcore.mesh.mesh import Mesh
from cutcore.queries.visibility import look_at
from cutcore.trace.trace import Trace


def with_far_side(mesh: Mesh, trace: Trace, camera: Camera) -> Trace:
    """A trace that knows which of its spans a view does not see, for tools that have no view of
    their own.

    A span is seen where its middle is: its face looks to the eye and nothing lies before it. Spans
    along edges are left as they are."""
    inside = np.flatnonzero(trace.face >= 0)
    far = trace.far.copy()
    if len(inside):
        middle = trace.place[trace.ends[inside]].mean(axis=1)
        seen = look_at(mesh, camera, middle, own=trace.face[inside])
        facing = np.einsum("ij,ij->i", mesh.face_normals(trace.face[inside]), seen.sights) < 0
        far[inside] = ~(seen.clear & facing & seen.before_eye)
    return replace(trace, far=far)
