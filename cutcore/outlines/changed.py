"""Outlines changed as a whole: mirrored, in rows, round a centre, rounded, opened or closed."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.outlines.drawn import DrawnCurve, DrawnOutline, Node, within_reach
from cutcore.outlines.placing import NodeChange, placed_node
from cutcore.params import Params, Real

Count = Annotated[int, Field(ge=1, le=100)]


class MirrorChange(Params):
    """Left for right, or top for bottom."""

    change: Literal["mirror"] = "mirror"
    across: Literal["x", "y"] = "x"


class RowsChange(Params):
    """Copies in rows and columns about the middle, so far from one to the next."""

    change: Literal["rows"] = "rows"
    columns: Count = 2
    rows: Count = 1
    across: Real = 20.0
    down: Real = 20.0


class RoundChange(Params):
    """Copies round a centre that lies below the outline by the radius."""

    change: Literal["round"] = "round"
    count: Count = 6
    radius: Annotated[Real, Field(ge=0)] = 30.0


class CornersChange(Params):
    """The same radius for all corners."""

    change: Literal["corners"] = "corners"
    radius: Annotated[Real, Field(ge=0)] = 0.0


OutlineChange = Annotated[
    MirrorChange | RowsChange | RoundChange | CornersChange | NodeChange,
    Field(discriminator="change"),
]


@within_reach()
def changed_outline(outline: DrawnOutline, change: OutlineChange) -> DrawnOutline:
    """The outline once a change was made to it."""
    match change:
        case NodeChange():
            return placed_node(outline, change)
        case MirrorChange():
            flip = np.array([-1.0, 1.0] if change.across == "x" else [1.0, -1.0])
            curves = tuple(_mirrored(curve, flip) for curve in outline.curves)
        case RowsChange():
            steps = [
                (
                    change.across * (c - (change.columns - 1) / 2),
                    change.down * ((change.rows - 1) / 2 - r),
                )
                for r in range(change.rows)
                for c in range(change.columns)
            ]
            curves = tuple(
                _moved(curve, 0.0, np.array(step)) for step in steps for curve in outline.curves
            )
        case RoundChange():
            turns = 2 * np.pi * np.arange(change.count) / change.count
            up = np.array([0.0, change.radius])
            curves = tuple(
                _moved(curve, float(turn), _turned(up, float(turn)))
                for turn in turns
                for curve in outline.curves
            )
        case CornersChange():
            curves = tuple(
                curve.model_copy(
                    update={
                        "nodes": tuple(
                            node.model_copy(update={"corner": change.radius})
                            for node in curve.nodes
                        )
                    }
                )
                for curve in outline.curves
            )
    # Checked again: copies may be more than an outline can have.
    return DrawnOutline(curves=curves, pieces=outline.pieces)


def _turned(at: np.ndarray, turn: float) -> np.ndarray:
    return np.array(
        [at[0] * np.cos(turn) - at[1] * np.sin(turn), at[0] * np.sin(turn) + at[1] * np.cos(turn)]
    )


def _moved(curve: DrawnCurve, turn: float, by: np.ndarray) -> DrawnCurve:
    nodes = []
    for node in curve.nodes:
        x, y = _turned(np.array(node.at), turn) + by
        nodes.append(node.model_copy(update={"at": (float(x), float(y))}))
    return curve.model_copy(update={"nodes": tuple(nodes)})


def _mirrored(curve: DrawnCurve, flip: np.ndarray) -> DrawnCurve:
    """The mirror image, its points taken the other way round so that it runs as before; bows stay
    on the same side."""
    count = len(curve.nodes)
    nodes: list[Node] = []
    for k in range(count):
        node, before = curve.nodes[count - 1 - k], curve.nodes[(count - 2 - k) % count]
        x, y = np.array(node.at) * flip
        nodes.append(node.model_copy(update={"at": (float(x), float(y)), "bow": before.bow}))
    return curve.model_copy(update={"nodes": tuple(nodes)})
