"""The outlines of the sample project: a hatch, a vent, a wave, letters. All numbers are
millimetres."""

from __future__ import annotations

from cutcore.outlines.drawn import DrawnCurve, DrawnOutline, Node
from cutcore.outlines.lettering import lettering
from cutcore.outlines.makers import RectangleOutline, SlotOutline, make_outline


def sample_outlines() -> list[tuple[str, DrawnOutline]]:
    """Names and outlines, in the order of the drawer."""
    return [
        ("Inspection hatch", make_outline(RectangleOutline(width=46, height=34, corner=8))),
        ("Vent slot", make_outline(SlotOutline(length=30, width=6))),
        ("Wave emblem", _wave()),
        ("SL-7", lettering("SL-7", 16, tolerance=0.08)),
    ]


def _wave() -> DrawnOutline:
    """Three crests over a straight foot."""
    crests = [Node(at=(24.0 - 16.0 * k, 2.0), bow=-6.0) for k in range(3)]
    foot = [Node(at=(-24.0, 2.0)), Node(at=(-24.0, -7.0)), Node(at=(24.0, -7.0))]
    return DrawnOutline(curves=(DrawnCurve(nodes=(*crests, *foot)),))
