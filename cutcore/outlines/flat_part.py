"""A part made of an outline: flat, in one face or in quads, or as thick as is wanted."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.chart import Chart
from cutcore.geometry.polygons import inside_loop, loop_area
from cutcore.imprint.lids import faces_between
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import RELATIVE_WELD
from cutcore.notes import Note
from cutcore.outlines.drawn import SheetCurve
from cutcore.outlines.region import region_of
from cutcore.params import Params, Real
from cutcore.reshape.building.thicken import thickened
from cutcore.reshape.dividing import quads
from cutcore.words import count_of


class FlatPart(Params):
    """How an outline becomes a part: each piece `one face` (a ring where it has holes) or in
    `quads`; `thickness` behind its front, if it is more than 0."""

    faces: Literal["one face", "quads"] = "one face"
    thickness: Annotated[Real, Field(ge=0)] = 0.0


def flat_part(curves: list[SheetCurve], params: FlatPart) -> tuple[Mesh, tuple[Note, ...]]:
    """A mesh of the closed curves of an outline, in the plane of its sheet: its front looks along z.

    What they bound is one thing by `region_of`. Raises StepError where that is nothing."""
    loops = [_told_apart(curve.points[:, :2]) for curve in curves if curve.closed]
    loops = [loop for loop in loops if len(loop) > 2]
    if not loops:
        raise StepError("a part is made of closed curves: this outline has none", where="outline")
    notes = []
    if len(loops) < len(curves):
        words = (
            f"{count_of(len(curves) - len(loops), 'open curve')} bound nothing and were left out."
        )
        notes.append(Note("open-curves", words))
    region = region_of(loops)
    if not region.loops:
        raise StepError("the curves of this outline bound nothing", where="outline")
    if region.crossing:
        words = "Curves cross or touch: what they bound together is one piece."
        notes.append(Note("crossing-curves", words))
    if region.empty:
        words = f"{count_of(region.empty, 'curve')} without area bound nothing and were left out."
        notes.append(Note("empty-curves", words))
    loops = [loop if loop_area(loop) > 0 else loop[::-1] for loop in region.loops]
    around = [
        [j for j in range(len(loops)) if j != k and bool(inside_loop(loops[j], loop[:1])[0])]
        for k, loop in enumerate(loops)
    ]
    points = np.concatenate([np.column_stack([loop, np.zeros(len(loop))]) for loop in loops])
    first = np.cumsum([0, *(len(loop) for loop in loops)])
    rows = [first[k] + np.arange(len(loop)) for k, loop in enumerate(loops)]
    chart = Chart(np.zeros(3), np.eye(3)[0], np.eye(3)[1], np.eye(3)[2])
    weld = RELATIVE_WELD * float(np.linalg.norm(np.ptp(points, axis=0)))
    faces = []
    for k, row in enumerate(rows):
        if len(around[k]) % 2:
            continue
        # A hole lies in one curve more than its surround does.
        holes = [
            rows[j]
            for j in range(len(loops))
            if k in around[j] and len(around[j]) == len(around[k]) + 1
        ]
        made = faces_between(points, row, holes, chart, weld=weld)
        if not made:
            raise StepError("curves of the outline cross each other", where="outline")
        faces += made
    mesh = Mesh.of(points, faces)
    if params.faces == "quads":
        result = quads.apply(mesh, quads.QuadsParams())
        mesh, notes = result.mesh, [*notes, *result.notes]
    if params.thickness > 0:
        mesh = thickened(mesh, -params.thickness).mesh
    return mesh, tuple(notes)


def _told_apart(loop: np.ndarray) -> np.ndarray:
    """A loop (n, 2) without points that repeat the one before."""
    fresh = (loop != np.roll(loop, 1, axis=0)).any(axis=1)
    return np.asarray(loop[fresh])
