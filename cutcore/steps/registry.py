"""The tools and reshapes there are. A new one is put into the union of steps and into the list
below it."""

from __future__ import annotations

from typing import Annotated, Any, TypeAlias

from pydantic import Field

from cutcore.reshape.building import extrude, inset, thicken
from cutcore.reshape.building.bevel import bevel
from cutcore.reshape.dividing import circle, divide, fill, quads, subdivide, triangulate
from cutcore.reshape.joining import (
    bridge,
    clean_patch,
    collapse,
    join_patches,
    join_triangles,
    strays,
    weld,
)
from cutcore.reshape.marking import facing, flip, hard_edges, patch, rename_patch
from cutcore.reshape.opening import delete, dissolve, separate, split_apart, thin
from cutcore.reshape.placing import flatten, line_up, move, place, relax, round, size, slide
from cutcore.tool import Cut, Following, Reshape, ends_in_quads, is_woven
from cutcore.tools import freehand, gauge, loop, profile, ruled, seam
from cutcore.tools.knife import knife
from cutcore.tools.outline import outline
from cutcore.tools.shards import shards
from cutcore.tools.slice import slice
from cutcore.words import share_words

CuttingStep = (
    knife.KnifeParams
    | loop.LoopParams
    | slice.SliceParams
    | outline.OutlineParams
    | gauge.GaugeParams
    | profile.ProfileParams
    | freehand.FreehandParams
    | ruled.RuledParams
    | seam.SeamParams
)
ReshapingStep = (
    dissolve.DissolveParams
    | collapse.CollapseParams
    | weld.WeldParams
    | delete.DeleteParams
    | separate.SeparateParams
    | flip.FlipParams
    | size.SizeParams
    | extrude.ExtrudeParams
    | inset.InsetParams
    | round.RoundParams
    | bridge.BridgeParams
    | quads.QuadsParams
    | split_apart.SplitApartParams
    | fill.FillParams
    | circle.CircleParams
    | triangulate.TriangulateParams
    | join_triangles.JoinTrianglesParams
    | divide.DivideParams
    | flatten.FlattenParams
    | line_up.LineUpParams
    | facing.FacingParams
    | strays.StraysParams
    | thin.ThinParams
    | patch.PatchParams
    | rename_patch.RenamePatchParams
    | join_patches.JoinPatchesParams
    | clean_patch.CleanPatchParams
    | shards.ShardsParams
    | thicken.ThickenParams
    | place.PlaceParams
    | subdivide.SubdivideParams
    | hard_edges.HardEdgesParams
    | bevel.BevelParams
    | move.MoveParams
    | slide.SlideParams
    | relax.RelaxParams
)
Step = Annotated[CuttingStep | ReshapingStep, Field(discriminator="tool")]

PlanExtra = Annotated[
    knife.KnifeExtra
    | loop.LoopExtra
    | slice.SliceExtra
    | outline.OutlineExtra
    | gauge.GaugeExtra
    | freehand.FreehandExtra
    | ruled.RuledExtra
    | seam.SeamExtra
    | weld.WeldExtra
    | quads.QuadsExtra
    | shards.ShardsExtra
    | slide.SlideExtra,
    Field(discriminator="of"),
]

AnyTool: TypeAlias = Cut[Any] | Reshape[Any]

TOOLS: dict[str, AnyTool] = {
    tool.name: tool
    for tool in (
        *(knife.TOOL, loop.TOOL, slice.TOOL, outline.TOOL, gauge.TOOL, profile.TOOL),
        *(freehand.TOOL, ruled.TOOL, seam.TOOL),
        *(dissolve.TOOL, collapse.TOOL, weld.TOOL, delete.TOOL, separate.TOOL, flip.TOOL),
        *(size.TOOL, extrude.TOOL, inset.TOOL, round.TOOL, bridge.TOOL, quads.TOOL),
        *(split_apart.TOOL, fill.TOOL, circle.TOOL, triangulate.TOOL, join_triangles.TOOL),
        *(divide.TOOL, flatten.TOOL, line_up.TOOL, facing.TOOL, strays.TOOL),
        *(thin.TOOL, patch.TOOL, rename_patch.TOOL, join_patches.TOOL, clean_patch.TOOL),
        *(shards.TOOL, thicken.TOOL, place.TOOL, subdivide.TOOL),
        *(hard_edges.TOOL, bevel.TOOL, move.TOOL, slide.TOOL, relax.TOOL),
    )
}


def tool_of(step: Step) -> AnyTool:
    """What is known of a step's tool."""
    return TOOLS[step.tool]


def title_of(step: Step) -> str:
    """A step in a few words; lengths are said by `words.with_unit`."""
    title = tool_of(step).title(step)
    if isinstance(step, Following) and step.follow:
        title = f"{title}, follow {share_words(step.follow)}"
    if is_woven(step):
        return f"{title}, woven"
    return f"{title}, all quads" if ends_in_quads(step) else title
