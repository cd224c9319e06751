"""Aiming an edge loop: the edge under the pointer, and the loop that a click there would plan."""

from __future__ import annotations

from dataclasses import dataclass

from cutcore.aiming.marks import Mark, Settling, edge_mark_at
from cutcore.errors import CutError, StepError
from cutcore.geometry.camera import Camera, Pixel, View
from cutcore.mesh.mesh import Mesh
from cutcore.queries.ray_caster import Shown
from cutcore.tools import loop
from cutcore.tools.loop import LoopParams, LoopSettings
from cutcore.trace.far_side import with_far_side
from cutcore.trace.spread import Spread
from cutcore.trace.trace import Trace


@dataclass(frozen=True)
class LoopQuestion:
    """A pointer in a view; `held` is the edge of a loop that is already planned and now slides
    along it.

    `flipped` counts places from the other end of the edge, `spread` puts several loops in place of
    the one at the mark."""

    view: View
    pointer: Pixel
    settling: Settling
    settings: LoopSettings
    spread: Spread | None
    flipped: bool
    held: tuple[int, int] | None


@dataclass(frozen=True, eq=False)
class LoopAim:
    """The mark, the step that a click would plan, and what it draws."""

    mark: Mark
    step: LoopParams | None
    trace: Trace | None
    refusal: CutError | None


def aim_loop(mesh: Mesh, question: LoopQuestion, shown: Shown | None) -> LoopAim:
    """Answer one pointer. A loop that can't be laid is answered with the reason."""
    held = None
    if question.held is not None:
        held = mesh.edges.between(*question.held)
        if held < 0:
            raise StepError("the edge of the loop is not there any more", where="held")
    camera = Camera.of(question.view)
    mark = edge_mark_at(mesh, question.pointer, camera, question.settling, held=held, shown=shown)
    if mark.ends is None or mark.share is None or mark.length is None:
        return LoopAim(mark, None, None, None)
    low, high = mark.ends
    share = 1.0 - mark.share if question.flipped else mark.share
    at = (share * mark.length if question.settings.measure == "distance" else share,)
    step = LoopParams(
        **dict(question.settings),
        edge=(high, low) if question.flipped else (low, high),
        at=None if question.spread else at,
        spread=question.spread,
    )
    try:
        return LoopAim(mark, step, with_far_side(mesh, loop.trace(mesh, step), camera), None)
    except CutError as refusal:
        return LoopAim(mark, step, None, refusal)
