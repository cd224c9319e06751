"""Aiming a slice: the end of its line under the pointer, and where the part would be cut."""

from __future__ import annotations

from dataclasses import dataclass

from cutcore.aiming.locks import Lock
from cutcore.aiming.marks import Settling
from cutcore.aiming.sight_line import LineEnd, line_end
from cutcore.errors import CutError
from cutcore.geometry.camera import Camera, Pixel, View
from cutcore.mesh.mesh import Mesh
from cutcore.queries.ray_caster import Shown
from cutcore.tools.slice import slice
from cutcore.tools.slice.planes import ScreenLine
from cutcore.tools.slice.slice import SliceParams
from cutcore.trace.trace import Trace


@dataclass(frozen=True)
class SliceQuestion:
    """A pointer in a view; `start` is the other end of the line, if that has been placed."""

    view: View
    pointer: Pixel
    settling: Settling
    lock: Lock
    start: Pixel | None
    limit: tuple[int, ...] | None


@dataclass(frozen=True, eq=False)
class SliceAim:
    end: LineEnd
    trace: Trace | None
    refusal: CutError | None


def aim_slice(mesh: Mesh, question: SliceQuestion, shown: Shown | None) -> SliceAim:
    """Answer one pointer. A line that gives no plane is answered with the reason."""
    end = line_end(
        mesh,
        question.pointer,
        Camera.of(question.view),
        question.settling,
        question.lock,
        question.start,
        shown=shown,
    )
    if question.start is None or question.start == end.pixel:
        return SliceAim(end, None, None)
    line = ScreenLine.model_validate({"from": question.start, "to": end.pixel})
    try:
        return SliceAim(
            end,
            slice.trace(mesh, SliceParams(line=line, view=question.view, limit=question.limit)),
            None,
        )
    except CutError as refusal:
        return SliceAim(end, None, refusal)
