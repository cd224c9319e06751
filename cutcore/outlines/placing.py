"""One point of an outline put where a person means it: on the grid, level with another point, held
to a direction, at a length."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats
from cutcore.outlines.drawn import DrawnCurve, DrawnOutline, Node
from cutcore.params import Length, Params, Real

# A point held to angles turns in steps of so many degrees about the one before it.
ANGLE_STEP_DEGREES = 15.0


class NodeChange(Params):
    """Where a point of a curve is put; `node` one past the last adds a point, `insert` puts one in
    before it.

    It settles on `step` (0: not at all), and level with another point of the curve within that.
    `lock` holds it level with the point before it, plumb above it, or to steps of 15 degrees from
    it; `length` sets how far from it."""

    change: Literal["node"] = "node"
    curve: Annotated[int, Field(ge=0)]
    node: Annotated[int, Field(ge=0)]
    insert: bool = False
    to: tuple[Real, Real]
    step: Annotated[Real, Field(ge=0)] = 1.0
    lock: Literal["free", "level", "plumb", "angle"] = "free"
    length: Length | None = None


def placed_node(outline: DrawnOutline, change: NodeChange) -> DrawnOutline:
    """The outline with the point put there. Raises StepError for a curve or point that is not
    there."""
    if change.curve >= len(outline.curves):
        raise StepError(
            f"there are {len(outline.curves)} curves, got curve {change.curve}", where="curve"
        )
    curve = outline.curves[change.curve]
    nodes = list(curve.nodes)
    if change.node > len(nodes):
        raise StepError(f"there are {len(nodes)} points, got point {change.node}", where="node")
    fresh = change.insert or change.node == len(nodes)
    others = nodes if fresh else nodes[: change.node] + nodes[change.node + 1 :]
    before = nodes[change.node - 1] if change.node > 0 or curve.closed else None
    at = _settled(np.array(change.to), before, others, change)
    if fresh:
        nodes.insert(change.node, Node(at=(float(at[0]), float(at[1]))))
        if change.insert and before is not None:
            # The stretch that was bowed is two straight ones now.
            nodes[change.node - 1] = before.model_copy(update={"bow": 0.0})
    else:
        nodes[change.node] = nodes[change.node].model_copy(
            update={"at": (float(at[0]), float(at[1]))}
        )
    made = DrawnCurve(nodes=tuple(nodes), closed=curve.closed)
    return outline.model_copy(
        update={
            "curves": (*outline.curves[: change.curve], made, *outline.curves[change.curve + 1 :])
        }
    )


def _settled(at: Floats, before: Node | None, others: list[Node], change: NodeChange) -> Floats:
    if change.step > 0:
        rounded = np.round(at / change.step) * change.step
        for k in (0, 1):
            level = [node.at[k] for node in others if abs(node.at[k] - at[k]) <= 0.5 * change.step]
            if level:
                nearest = np.argmin(np.abs(np.array(level) - at[k]))
                rounded[k] = level[int(nearest)]
        at = np.round(rounded, 9)
    if before is None:
        return at
    start = np.array(before.at)
    away = at - start
    if change.lock in ("level", "plumb"):
        away = away * ([1.0, 0.0] if change.lock == "level" else [0.0, 1.0])
    elif change.lock == "angle":
        turn = np.radians(
            round(np.degrees(np.arctan2(away[1], away[0])) / ANGLE_STEP_DEGREES)
            * ANGLE_STEP_DEGREES
        )
        along = np.array([np.cos(turn), np.sin(turn)])
        away = float(away @ along) * along
    size = float(np.linalg.norm(away))
    if change.length is not None and size > 0:
        away = away * (change.length / size)
    return np.asarray(start + away) if change.lock != "free" or change.length is not None else at
