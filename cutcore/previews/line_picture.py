"""A part, or several as they stand, drawn in lines as a view sees them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from pydantic import Field

from cutcore.formats.line_svg import write_lines
from cutcore.formats.scene_part import ScenePart, moved_to
from cutcore.geometry.arrays import Bools, Ints
from cutcore.geometry.camera import Camera, View
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.submesh import without_faces
from cutcore.mesh.together import together
from cutcore.params import Index, Params
from cutcore.queries.seen_lines import SeenLines, seen_lines


class LinePicture(Params):
    """How a part is drawn in lines."""

    view: View = Field(description="in the part's own coordinates")
    every: bool = Field(default=True, description="all edges, or only those that tell the form")
    hidden: bool = Field(default=False, description="what is out of sight is drawn in dashes")
    shown: tuple[Index, ...] | None = Field(
        default=None, description="the faces of it that are there; null for all"
    )


def line_picture(
    part: ScenePart,
    beside: Sequence[ScenePart],
    picture: LinePicture,
    *,
    colour: str,
    ground: str | None,
) -> bytes:
    """An SVG drawing of a part in a view that is in its own coordinates, with the parts `beside` it
    where they stand; those may hide it, and it them. Raises StepError for a view that sees
    nothing."""
    camera, size = Camera.of(picture.view), picture.view.size
    meshes = [_only(part.mesh, picture.shown)]
    for other in beside:
        back = part.placement.undone.after(other.placement)
        meshes.append(moved_to(ScenePart(other.name, other.mesh, back)))
    scene = together(meshes)
    lines = seen_lines(scene, camera, size, every=picture.every)
    whose = _whose(scene, meshes, lines.edge)
    names = [one.name for one in (part, *beside)]
    groups = [(name, _some(lines, whose == k)) for k, name in enumerate(names)]
    return write_lines(groups, size, hidden=picture.hidden, colour=colour, ground=ground)


def _only(mesh: Mesh, shown: tuple[int, ...] | None) -> Mesh:
    """A mesh with some of its faces; all for None."""
    if shown is None:
        return mesh
    gone = np.ones(mesh.face_count, dtype=bool)
    gone[[face for face in shown if face < mesh.face_count]] = False
    return without_faces(mesh, gone)[0]


def _whose(mesh: Mesh, meshes: Sequence[Mesh], edges: Ints) -> Ints:
    """Which of several meshes that were put together some edges are of."""
    ends = np.cumsum([one.vertex_count for one in meshes])
    return np.searchsorted(ends, mesh.edges.ends[edges, 0], side="right")


def _some(lines: SeenLines, chosen: Bools) -> SeenLines:
    return SeenLines(lines.ends[chosen], lines.edge[chosen], lines.seen[chosen], lines.bold[chosen])
