"""Stencils: outlines taken from a part as it stands before another one: its edges, its border, its
section by a plane, its silhouette from a view."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints
from cutcore.geometry.camera import Camera, Vector, View
from cutcore.geometry.plane import Plane
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import weld_of
from cutcore.outlines.drawn import SheetCurve, plain
from cutcore.outlines.from_edges import Lifted, outline_of_edges
from cutcore.outlines.sheet_axes import sheet_axes
from cutcore.params import Index, Params
from cutcore.progress import come_to
from cutcore.queries.edge_runs import runs_of_pairs
from cutcore.queries.ray_caster import caster_of
from cutcore.queries.section import section
from cutcore.queries.visibility import reach_of

# Points of a silhouette that lie off it by less than this share of its size say nothing.
NEEDLESS = 1e-6
# Where lines of a silhouette meet is worked out on a grid of so many steps across the picture.
GRID_STEPS = 2e8


class OfEdges(Params):
    """Edges by number."""

    of: Literal["edges"] = "edges"
    edges: tuple[Index, ...]


class OfBorder(Params):
    """All open borders."""

    of: Literal["border"] = "border"


class OfSection(Params):
    """Where a plane meets the part."""

    of: Literal["section"] = "section"
    point: Vector
    normal: Vector


class OfSilhouette(Params):
    """What the part hides of whatever lies behind it, seen from a view."""

    of: Literal["silhouette"] = "silhouette"
    view: View


Stencil = Annotated[OfEdges | OfBorder | OfSection | OfSilhouette, Field(discriminator="of")]


def stencil_of(mesh: Mesh, stencil: OfEdges | OfBorder | OfSection | OfSilhouette) -> Lifted:
    """The outline, and where its sheet stands. Raises StepError where there is nothing of the
    kind."""
    if isinstance(stencil, OfEdges):
        edges = np.unique(np.array(stencil.edges, dtype=np.int64))
        if len(edges) and edges[-1] >= len(mesh.edges):
            raise StepError(f"there are {len(mesh.edges)} edges", where="stencil.edges")
        return outline_of_edges(mesh, edges)
    if isinstance(stencil, OfBorder):
        border = np.flatnonzero(mesh.edges.border)
        if len(border) == 0:
            raise StepError("the part is closed: it has no boundary", where="stencil")
        return outline_of_edges(mesh, border)
    if isinstance(stencil, OfSection):
        plane = Plane.through(np.array(stencil.point), np.array(stencil.normal))
        return section_outline(mesh, plane)
    return silhouette(mesh, Camera.of(stencil.view))


def section_outline(mesh: Mesh, plane: Plane) -> Lifted:
    """The section of a part by a plane, on a sheet in that plane. Raises StepError where they don't
    meet."""
    found = section(mesh, plane, weld=weld_of(mesh))
    if len(found.ends) == 0:
        raise StepError("the plane does not meet the part", where="stencil")
    runs = runs_of_pairs(found.ends)
    places = found.place[np.unique(found.ends)]
    centre = 0.5 * (places.min(axis=0) + places.max(axis=0))
    centre = centre - plane.heights(centre[None])[0] * plane.normal
    right, up = sheet_axes(plane.normal)
    curves = []
    for run, closed in runs:
        local = found.place[run] - centre
        curves.append(
            SheetCurve(np.column_stack([local @ right, local @ up, np.zeros(len(run))]), closed)
        )
    return Lifted(plain(curves), centre, plane.normal)


def silhouette(mesh: Mesh, camera: Camera) -> Lifted:
    """The silhouette of a part, on a sheet square to the sight through the middle of the part:
    outlines round what hides something, holes included.

    Its lines are the edges between faces that look to the eye and faces that look away, and the
    borders (A. Appel, The notion of quantitative invisibility, ACM National Conference 1967); of the
    cells that these make of the picture, those behind which a ray meets the part are kept.
    Raises StepError where a corner of the part lies behind the eye."""
    lines = camera.project(mesh.points)[mesh.edges.ends[_contour(mesh, camera)]]
    if not np.isfinite(lines).all():
        raise StepError("the part reaches behind the eye: step back", where="stencil.view")
    size = float(np.ptp(lines.reshape(-1, 2), axis=0).max()) if len(lines) else 0.0
    if size == 0.0:
        raise StepError("nothing of the part can be seen from there", where="stencil.view")
    come_to("laying the edges over one another", 0.1)
    pieces = shapely.union_all(shapely.linestrings(lines), grid_size=size / GRID_STEPS)
    cells = shapely.get_parts(shapely.polygonize(shapely.get_parts(pieces)))
    cells = cells[shapely.area(cells) > NEEDLESS * size * NEEDLESS * size]
    inside = shapely.get_coordinates(shapely.point_on_surface(cells))
    if len(inside) == 0:
        raise StepError("nothing of the part can be seen from there", where="stencil.view")
    come_to("looking what lies behind them", 0.7)
    hits = caster_of(mesh).first(*camera.rays(inside, reach=reach_of(mesh, camera)))
    whole = shapely.union_all(cells[hits.face >= 0]).simplify(NEEDLESS * size)
    rings = []
    for area in shapely.get_parts(whole):
        rings += [area.exterior, *area.interiors]
    middle = mesh.box.mean(axis=0)
    depth = 1.0 if camera.parallel else float(camera.depth(middle[None])[0])
    eye = middle if camera.parallel else camera.eye + depth * camera.forward
    right, up = sheet_axes(-camera.forward)
    base = camera.project(eye[None])[0]
    curves = []
    for ring in rings:
        pixels = shapely.get_coordinates(ring)[:-1] - base
        across = pixels * [depth / camera.scale, -depth / camera.scale]
        places = across[:, :1] * camera.right + across[:, 1:] * camera.up
        flat = np.column_stack([places @ right, places @ up, np.zeros(len(places))])
        curves.append(SheetCurve(flat, True))
    if not curves:
        raise StepError("nothing of the part can be seen from there", where="stencil.view")
    return Lifted(plain(curves), eye, -camera.forward)


def _contour(mesh: Mesh, camera: Camera) -> Ints:
    """The edges (n,) at which the surface turns away from the eye, or ends."""
    middle: Floats = mesh.points[mesh.corners[mesh.starts[:-1]]]
    towards = np.einsum("ij,ij->i", mesh.face_normals(), camera.sights(middle)) < 0
    pairs = mesh.edges.faces
    turns = towards[pairs[:, 0]] != towards[np.maximum(pairs[:, 1], 0)]
    chosen = mesh.edges.border | turns
    chosen[list(mesh.edges.crowded)] = True
    return np.flatnonzero(chosen)
