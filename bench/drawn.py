"""Lines drawn, ruled and laid over a part: how long their plans take, as passes over the part."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bench.row import Row
from bench.timing import median
from cutcore import Mesh, parse_step, trace_step
from cutcore.geometry.camera import Camera, View


def drawn_rows(mesh: Mesh, views: list[View], one_pass: float) -> Iterator[Row]:
    """A stroke of 200 points, 20 scores side by side, 100 ruled lines, a seam across half of the
    part. Each is asked for from several views or places: an answer is kept for the last only."""
    rings = [{"view": view.model_dump(), "strokes": [ring(mesh, view)]} for view in views]

    def stroke(**more: object) -> float:
        steps = iter([parse_step({"tool": "freehand", **drawn, **more}) for drawn in rings])
        return median(lambda: trace_step(mesh, next(steps)), len(rings) - 1) / one_pass

    yield Row("a stroke of 200 points, planned", stroke(within=0.3), "P", 8.0, "64 k")
    side_by_side = stroke(keeps="edges", spread={"count": 20})
    yield Row("20 scores side by side, planned", side_by_side, "P", 8.0)
    yield Row("100 ruled lines over 2000 faces, planned", ruled(mesh) / one_pass, "P", 10.0)
    yield Row("a seam across half of the part, planned", seam(mesh) / one_pass, "P", 15.0, "64 k")


def ring(mesh: Mesh, view: View) -> dict[str, object]:
    """A trembling curve most of the way round the picture of a part."""
    pixels = Camera.of(view).project(mesh.points)
    low, high = np.nanmin(pixels, axis=0), np.nanmax(pixels, axis=0)
    turn = np.linspace(0.0, 1.8 * np.pi, 200)
    line = np.stack([np.cos(turn), np.sin(turn)], axis=1) * 0.36 * (high - low) + (low + high) / 2
    return {"points": (line + np.random.default_rng(1).normal(0, 1, line.shape)).tolist()}


def ruled(mesh: Mesh) -> float:
    """100 lines from an edge at the border of 2000 faces that lie together."""
    middle = mesh.points[mesh.corners].reshape(-1, 4, 3).mean(axis=1)
    near = np.argsort(np.linalg.norm(middle - middle[100], axis=1))[:2000]
    inside = np.zeros(mesh.face_count, dtype=bool)
    inside[near] = True
    border = np.flatnonzero(inside[mesh.edges.faces].sum(axis=1) == 1)
    degrees = iter(np.linspace(80.0, 90.0, 50).tolist())

    def plan() -> object:
        step = {
            "tool": "ruled",
            "bases": [{"edges": [mesh.edges.ends[border[0]].tolist()]}],
            "spread": {"count": 100},
            "limit": near.tolist(),
            "degrees": next(degrees),
        }
        return trace_step(mesh, parse_step(step))

    return median(plan, 7)


def seam(mesh: Mesh) -> float:
    """From a vertex to others half of the part away."""
    ends = iter(mesh.vertex_count // 2 + 37 * np.arange(50))

    def plan() -> object:
        points = [{"vertex": 0}, {"vertex": int(next(ends))}]
        return trace_step(mesh, parse_step({"tool": "seam", "points": points}))

    return median(plan, 7)
