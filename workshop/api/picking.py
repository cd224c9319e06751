"""Picking: the elements that a person means, by every way of meaning them. Nothing here changes
anything."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Literal

import numpy as np
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from cutcore import Mesh
from cutcore.aiming.picking.chains import edge_loop, ring, shortest_path
from cutcore.aiming.picking.pointer import (
    Kind,
    in_rectangle,
    kind_under_pointer,
    under_brush,
    under_pointer,
)
from cutcore.aiming.picking.regions import (
    FlowKind,
    border_of,
    by_flow,
    connected,
    count_of,
    faces_at,
    grown,
    inverted,
    patch_of,
    shrunk,
)
from cutcore.geometry.arrays import Ints
from cutcore.geometry.camera import Camera, Pixel, Vector, View
from cutcore.params import Index
from cutcore.queries.flow import flow
from cutcore.queries.flow_lines import FlowLine, loop_line, ring_line
from cutcore.queries.measure import Ring, measured
from cutcore.queries.patches import patches_of
from cutcore.queries.quality import WORSE, Measure, faces_in_bin, quality
from cutcore.queries.ray_caster import Shown
from cutcore.tool import Place, place_of
from workshop.api.base import Id, In
from workshop.api.parts import AtRevision, pick_of
from workshop.api.shapes import ErrorOut, PickOut
from workshop.errors import NotThere
from workshop.services.live_meshes import shown_of
from workshop.services.parts import mesh_at

router = Router(tags=["picking"])


class ByPointer(In):
    by: Literal["pointer"]
    kind: Kind | None = Field(description="null for the kind that the pointer is on")
    view: View
    pointer: Pixel
    radius: float = Field(
        default=0.0,
        ge=0,
        le=200,
        description="of the brush in pixels; 0 for the one element under the pointer",
    )


class ByRectangle(In):
    by: Literal["rectangle"]
    kind: Kind
    view: View
    corner: Pixel
    other: Pixel
    through: bool = False


class ByChain(In):
    """Along edges: the loop or ring of an edge, or the shortest path between two vertices."""

    by: Literal["loop", "ring", "path"]
    elements: tuple[Index, ...] = Field(
        description="one edge for a loop or a ring, two vertices for a path"
    )


class ByRegion(In):
    """What some picked elements lead to."""

    by: Literal["grow", "shrink", "invert", "connected", "patch", "border"]
    kind: Kind
    elements: tuple[Index, ...]


class ByFlow(In):
    by: Literal["flow"]
    what: FlowKind


class ByQuality(In):
    """The faces in one bin of a measure."""

    by: Literal["quality"]
    measure: Measure
    bin: Index


Pick = Annotated[
    ByPointer | ByRectangle | ByChain | ByRegion | ByFlow | ByQuality, Field(discriminator="by")
]


class PickIn(AtRevision):
    pick: Pick
    shown: tuple[Index, ...] | None = None


class PickedOut(Schema):
    """Elements of one kind, by number; edges as the mesh that is drawn numbers them."""

    kind: Kind
    elements: list[int]


class MeasureIn(AtRevision):
    """What is picked (nothing: the whole part), and a direction to measure along."""

    pick: PickOut = Field(default_factory=PickOut)
    along: Vector | None = None


class RingOut(Schema):
    """A circle fitted to what is picked; the height is that of its centre along its normal."""

    centre: Place
    normal: Place
    diameter: float
    roundness: float
    flatness: float
    height: float


class MeasureOut(Schema):
    """What can be said of a pick in numbers; lengths in the part's units, angles in degrees."""

    low: Place
    high: Place
    along: tuple[float, float] | None
    distance: float | None
    angle: float | None
    length: float | None
    area: float | None
    normal: Place | None
    ring: RingOut | None


@router.post("/parts/{part_id}/measure", response={200: MeasureOut, 404: ErrorOut, 409: ErrorOut})
def measure(request: HttpRequest, part_id: Id, body: MeasureIn) -> MeasureOut:
    """The measures of a pick."""
    mesh = mesh_at(part_id, body.revision)
    pick = pick_of(mesh, body.pick)
    direction = None if body.along is None else np.array(body.along)
    found = measured(mesh, pick.vertices, pick.edges, pick.faces, direction=direction)
    ring = found.ring
    return MeasureOut(
        low=place_of(found.low),
        high=place_of(found.high),
        along=found.along,
        distance=found.distance,
        angle=found.angle,
        length=found.length,
        area=found.area,
        normal=None if found.normal is None else place_of(found.normal),
        ring=None if ring is None else _ring_out(ring),
    )


def _ring_out(ring: Ring) -> RingOut:
    return RingOut(
        centre=place_of(ring.centre),
        normal=place_of(ring.normal),
        diameter=ring.diameter,
        roundness=ring.roundness,
        flatness=ring.flatness,
        height=ring.height,
    )


class PoleOut(Schema):
    """An inner vertex with other than four edges."""

    at: Place
    valence: int


class FlowOut(Schema):
    """What the flow view paints: faces by number, poles and stray vertices by place, open borders
    as edge numbers."""

    ngons: list[int]
    triangles: list[int]
    warped: list[int]
    blunt: list[int]
    sharp: list[int]
    folded: list[int]
    spirals: list[int]
    poles: list[PoleOut]
    stray: list[Place]
    t_junctions: list[Place]
    borders: list[int]


@router.get("/parts/{part_id}/flow", response={200: FlowOut, 404: ErrorOut, 409: ErrorOut})
def flow_places(request: HttpRequest, part_id: Id, revision: Id) -> FlowOut:
    """The places of the flow report."""
    mesh = mesh_at(part_id, revision)
    report = flow(mesh)

    def places(vertices: Ints) -> list[Place]:
        return [place_of(p) for p in mesh.points[vertices]]

    return FlowOut(
        ngons=report.faces_ngons.tolist(),
        triangles=report.faces_triangles.tolist(),
        warped=report.faces_warped.tolist(),
        blunt=report.faces_blunt.tolist(),
        sharp=report.faces_sharp.tolist(),
        folded=report.faces_folded.tolist(),
        spirals=report.faces_spirals.tolist(),
        poles=[
            PoleOut(at=at, valence=valence)
            for valence, vertices in report.poles.items()
            for at in places(vertices)
        ],
        stray=places(np.union1d(report.vertices_two_valence, report.vertices_isolated)),
        t_junctions=places(report.vertices_t_junctions),
        borders=np.flatnonzero(mesh.edges.border).tolist(),
    )


class BinOut(Schema):
    """How many faces are between two values of a measure; `level` is how bad that is: 0 for fine, 3
    for bad."""

    best: float
    worst: float | None
    faces: int
    level: int


class QualityOut(Schema):
    """One measure of how well faces are formed: its bins from the best to the worst, and the faces
    that are not fine: not good, poor, bad."""

    measure: Measure
    bins: list[BinOut]
    faces: list[list[int]]


@router.get("/parts/{part_id}/quality", response={200: QualityOut, 404: ErrorOut, 409: ErrorOut})
def quality_of(request: HttpRequest, part_id: Id, revision: Id, measure: Measure) -> QualityOut:
    """How well the faces of a part are formed, by one measure."""
    found = quality(mesh_at(part_id, revision), measure)
    level = found.level()
    levels = np.searchsorted(WORSE[measure], np.arange(len(found.counts)), side="right").tolist()
    return QualityOut(
        measure=measure,
        bins=[
            BinOut(best=row["from"], worst=row["to"], faces=row["faces"], level=bad)
            for row, bad in zip(found.as_json(), levels, strict=True)
        ],
        faces=[np.flatnonzero(level == bad).tolist() for bad in (1, 2, 3)],
    )


class FlowLinesIn(AtRevision):
    """A pointer in a view."""

    view: View
    pointer: Pixel
    shown: tuple[Index, ...] | None = None


class FlowLineOut(Schema):
    """A loop along edges or a ring across them: its path, and in words how far it runs and where it
    ends."""

    path: list[Place]
    closed: bool
    count: int
    length: float
    ends: list[str]

    @staticmethod
    def of(line: FlowLine) -> FlowLineOut:
        path: list[Place] = [place_of(place) for place in line.path]
        return FlowLineOut(
            path=path,
            closed=line.closed,
            count=line.count,
            length=line.length,
            ends=list(line.ends),
        )


class FlowLinesOut(Schema):
    """The loop and the ring of the edge under the pointer; null where there is none."""

    loop: FlowLineOut | None
    ring: FlowLineOut | None


@router.post(
    "/parts/{part_id}/flow-lines",
    response={200: FlowLinesOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut},
)
def flow_lines(request: HttpRequest, part_id: Id, body: FlowLinesIn) -> FlowLinesOut:
    """The loop and the ring that the edge under the pointer belongs to."""
    mesh = mesh_at(part_id, body.revision)
    shown = shown_of(mesh, body.shown)
    found = under_pointer(mesh, "edges", body.pointer, Camera.of(body.view), shown)
    if len(found) == 0:
        return FlowLinesOut(loop=None, ring=None)
    edge = int(found[0])
    return FlowLinesOut(
        loop=FlowLineOut.of(loop_line(mesh, edge)), ring=FlowLineOut.of(ring_line(mesh, edge))
    )


class PatchOut(Schema):
    """A patch: its name, how many faces it has, their area, the first of them, and a place on
    it."""

    name: str
    faces: int
    area: float
    first: int
    at: Place


@router.get(
    "/parts/{part_id}/patches", response={200: list[PatchOut], 404: ErrorOut, 409: ErrorOut}
)
def patches(request: HttpRequest, part_id: Id, revision: int) -> list[PatchOut]:
    """The patches of a part, in the order of their names' making."""
    return [PatchOut(**asdict(patch)) for patch in patches_of(mesh_at(part_id, revision))]


@router.post(
    "/parts/{part_id}/pick", response={200: PickedOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut}
)
def pick(request: HttpRequest, part_id: Id, body: PickIn) -> PickedOut:
    """The elements that a way of picking means."""
    mesh = mesh_at(part_id, body.revision)
    kind, elements = _picked(mesh, body.pick, shown_of(mesh, body.shown))
    return PickedOut(kind=kind, elements=elements.tolist())


def _picked(mesh: Mesh, pick: Pick, shown: Shown | None) -> tuple[Kind, Ints]:
    match pick:
        case ByPointer():
            camera = Camera.of(pick.view)
            kind = pick.kind or kind_under_pointer(mesh, pick.pointer, camera, shown)
            if pick.radius > 0:
                return kind, under_brush(mesh, kind, pick.pointer, pick.radius, camera, shown)
            return kind, under_pointer(mesh, kind, pick.pointer, camera, shown)
        case ByRectangle():
            found = in_rectangle(
                mesh,
                pick.kind,
                pick.corner,
                pick.other,
                Camera.of(pick.view),
                through=pick.through,
                shown=shown,
            )
            return pick.kind, found
        case ByChain():
            return "edges", _chain(mesh, pick)
        case ByRegion():
            return _region(mesh, pick)
        case ByFlow():
            return by_flow(mesh, pick.what)
        case ByQuality():
            return "faces", faces_in_bin(mesh, pick.measure, pick.bin)


def _chain(mesh: Mesh, pick: ByChain) -> Ints:
    if pick.by == "path":
        start, end = _those(pick.elements, 2, mesh.vertex_count)
        return shortest_path(mesh, int(start), int(end))
    (edge,) = _those(pick.elements, 1, len(mesh.edges))
    return edge_loop(mesh, int(edge)) if pick.by == "loop" else ring(mesh, int(edge))


def _region(mesh: Mesh, pick: ByRegion) -> tuple[Kind, Ints]:
    elements = _those(pick.elements, None, count_of(mesh, pick.kind))
    match pick.by:
        case "grow":
            return pick.kind, grown(mesh, pick.kind, elements)
        case "shrink":
            return pick.kind, shrunk(mesh, pick.kind, elements)
        case "invert":
            return pick.kind, inverted(mesh, pick.kind, elements)
        case "connected":
            return pick.kind, connected(mesh, pick.kind, elements)
        case "patch":
            return "faces", patch_of(mesh, faces_at(mesh, pick.kind, elements))
        case "border":
            return "edges", border_of(mesh, elements if pick.kind == "faces" else elements[:0])


def _those(elements: tuple[Index, ...], wanted: int | None, count: int) -> Ints:
    found = np.array(elements, dtype=np.int64)
    if (wanted is not None and len(found) != wanted) or ((found < 0) | (found >= count)).any():
        raise NotThere("an element of the pick is not there")
    return found
