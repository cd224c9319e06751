"""The flow report: what runs well in a mesh and what doesn't, with counts and places.

`flow` reads a whole mesh. `flow_after` says what the counts would be after a cut, from the faces it
touches alone, without building the new mesh; `flow_counts_after` does so for a mesh that was built.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints, distinct, found_in, row_positions
from cutcore.geometry.components import components
from cutcore.geometry.vectors import NOT_ZERO
from cutcore.mesh.mesh import Mesh, newell
from cutcore.mesh.result import Result, moved_vertices
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.corner_forms import corner_forms
from cutcore.queries.problems import inside_borders, t_junctions, zero_area_faces

# A face is warped if a corner lies further from its mean plane than this share of the root of its
# area.
WARPED = 0.05

# Corners beyond these, in degrees, are hardly corners.
BLUNT = 170.0
SHARP = 10.0


@dataclass(frozen=True)
class FlowCounts:
    """The counts a plan shows. Poles are inner vertices with other than four edges; stray vertices
    are inner vertices with two edges and vertices of no face; borders are counted as closed runs of
    border edges."""

    quads: int
    triangles: int
    ngons: int
    poles3: int
    poles5: int
    poles6: int
    stray: int
    t_junctions: int
    warped: int
    borders: int


@dataclass(frozen=True, eq=False)
class FlowReport:
    """Counts and places. `faces_*` hold face numbers, `vertices_*` vertex numbers, `edges_*` vertex
    pairs; `poles` the vertices of each valence that makes a pole.

    Blunt faces have a corner of more than BLUNT degrees, sharp ones one of less than SHARP; folded
    are quads with a corner that is turned in or over; a ring of quads that passes a face twice
    spirals there."""

    counts: FlowCounts
    faces_triangles: Ints
    faces_ngons: Ints
    faces_zero_area: Ints
    faces_warped: Ints
    faces_blunt: Ints
    faces_sharp: Ints
    faces_folded: Ints
    faces_spirals: Ints
    poles: dict[int, Ints]
    vertices_two_valence: Ints
    vertices_isolated: Ints
    vertices_t_junctions: Ints
    edges_borders: Ints
    edges_crowded: Ints

    @property
    def share_of_quads(self) -> float:
        total = self.counts.quads + self.counts.triangles + self.counts.ngons
        return self.counts.quads / total if total else 0.0

    def as_json(self) -> dict[str, Any]:
        places = {
            name: getattr(self, name).tolist()
            for name in self.__dataclass_fields__
            if name not in ("counts", "poles")
        }
        poles = {str(valence): vertices.tolist() for valence, vertices in self.poles.items()}
        return {
            "counts": asdict(self.counts),
            "share_of_quads": self.share_of_quads,
            "poles": poles,
            **places,
        }


def flow(mesh: Mesh) -> FlowReport:
    """The flow report of a whole mesh."""
    weld = weld_of(mesh)
    valence, border = _valence(mesh), _on_border(mesh)
    inner = ~border
    two = np.flatnonzero(inner & (valence == 2))
    isolated = np.flatnonzero(valence == 0)
    crowded = np.array(sorted(mesh.edges.crowded), dtype=np.int64)
    return FlowReport(
        flow_counts(mesh),
        np.flatnonzero(mesh.sizes == 3),
        np.flatnonzero(mesh.sizes > 4),
        zero_area_faces(mesh, weld=weld),
        warped_faces(mesh),
        *_badly_formed(mesh),
        spirals(mesh),
        {
            int(v): np.flatnonzero(inner & (valence == v))
            for v in np.unique(valence[inner])
            if v > 2 and v != 4
        },
        two,
        isolated,
        t_junctions(mesh, weld=weld),
        mesh.edges.ends[mesh.edges.border],
        mesh.edges.ends[crowded],
    )


def _badly_formed(mesh: Mesh) -> tuple[Ints, Ints, Ints]:
    """Faces that are blunt, sharp, and folded."""
    every = np.arange(mesh.face_count)
    sine, angle, starts = corner_forms(mesh, every)
    most, least = (
        np.maximum.reduceat(angle, starts[:-1]),
        np.minimum.reduceat(angle, starts[:-1]),
    )
    folded = (np.minimum.reduceat(sine, starts[:-1]) < 0) & (mesh.sizes == 4)
    return np.flatnonzero(most > BLUNT), np.flatnonzero(least < SHARP), np.flatnonzero(folded)


def spirals(mesh: Mesh) -> Ints:
    """The quads (n,) that one ring of quads passes twice, both ways across: it winds about itself
    instead of closing."""
    quads = np.flatnonzero(mesh.sizes == 4)
    sides = mesh.edges.of_corner[mesh.starts[quads][:, None] + np.arange(4)].astype(np.int64)
    links = np.concatenate([sides[:, [0, 2]], sides[:, [1, 3]]])
    links = links[~np.isin(links, list(mesh.edges.crowded)).any(axis=1)]
    ring = components(links.reshape(-1, 2), len(mesh.edges))[1]
    return quads[ring[sides[:, 0]] == ring[sides[:, 1]]]


def flow_counts(mesh: Mesh) -> FlowCounts:
    """The counts alone; worked out once for a mesh."""
    return mesh.held(_COUNTS, _all_counts)


_COUNTS = "_flow_counts"


def _all_counts(mesh: Mesh) -> FlowCounts:
    loose = (len(t_junctions(mesh, weld=weld_of(mesh))), _borders(mesh))
    return counts_of(
        mesh.sizes,
        warped_rows(mesh.points[mesh.corners], mesh.starts),
        _valence(mesh),
        _on_border(mesh),
        loose,
    )


def flow_counts_after(mesh: Mesh, result: Result) -> FlowCounts:
    """The counts of what a cut made of a mesh: worked out from the faces that changed, if the
    others kept their numbers."""
    after, origin = result.mesh, result.origin
    gone = np.flatnonzero(origin.kept < 0)
    in_place = (
        origin.keeps_numbers(mesh)
        and mesh.face_count <= after.face_count
        and len(moved_vertices(mesh, after)) == 0
    )
    if _COUNTS in after.__dict__ or not in_place:
        return flow_counts(after)
    fresh = np.concatenate([gone, np.arange(mesh.face_count, after.face_count)])
    parts = []
    for one, faces in ((mesh, gone), (after, fresh)):
        at, starts = row_positions(one.starts, faces)
        parts.append((one, starts, one.corners[at], distinct(one.corners[at])))
    touched = distinct(np.concatenate([parts[0][3], parts[1][3]]))
    after.edges.take_valence(mesh.edges)
    counts = flow_counts(mesh)
    was, now = (
        counts_of(
            np.diff(starts),
            warped_rows(one.points[corners], starts),
            *_valence_and_border(one, touched[touched < one.vertex_count]),
            (0, 0),
        )
        for one, starts, corners, _ in parts
    )
    made = {k: v - getattr(was, k) + getattr(now, k) for k, v in asdict(counts).items()}
    return after.held(
        _COUNTS,
        lambda of: FlowCounts(
            **{**made, "borders": _borders(of), "t_junctions": _t_junctions_after(mesh, of, counts)}
        ),
    )


def _t_junctions_after(mesh: Mesh, after: Mesh, counts: FlowCounts) -> int:
    """The T-junctions after a cut: where borders lie on each other a new vertex on one is one."""
    fresh = after.edges.ends[np.flatnonzero(after.edges.border)]
    fresh = distinct(fresh[fresh >= mesh.vertex_count])
    weld = weld_of(after)
    if len(fresh) == 0:
        return counts.t_junctions
    if counts.t_junctions:
        return len(t_junctions(after, weld=weld))
    return len(inside_borders(after, fresh, weld=weld))


def warped_faces(mesh: Mesh) -> Ints:
    """Faces with a corner off their mean plane by more than WARPED of the root of their area."""
    return np.flatnonzero(warped_rows(mesh.points[mesh.corners], mesh.starts))


def warped_rows(places: Floats, starts: Ints) -> Bools:
    """Which loops of places (C, 3) in ragged rows are warped."""
    if len(starts) == 1:
        return np.zeros(0, dtype=bool)
    sizes = np.diff(starts)
    normals = newell(places, starts)
    area = np.sqrt(np.einsum("ij,ij->i", normals, normals))
    unit = normals / np.maximum(area, NOT_ZERO)[:, None]
    middle = np.add.reduceat(places, starts[:-1]) / sizes[:, None]
    away = np.abs(
        np.einsum(
            "ij,ij->i", places - np.repeat(middle, sizes, axis=0), np.repeat(unit, sizes, axis=0)
        )
    )
    off: Floats = np.maximum.reduceat(away, starts[:-1])
    return np.asarray(off > WARPED * np.sqrt(area))


def _borders(mesh: Mesh) -> int:
    """How many separate runs of border edges there are."""
    ends = mesh.edges.ends[np.flatnonzero(mesh.edges.border)]
    if len(ends) == 0:
        return 0
    there = distinct(ends.ravel())
    return components(np.searchsorted(there, ends), len(there))[0]


def counts_of(
    sizes: Ints, warped: Bools, valence: Ints, border: Bools, loose: tuple[int, int]
) -> FlowCounts:
    """The counts of some faces and vertices; `loose` are T-junctions and borders, which are
    counted over the whole."""
    inner = valence[~border]
    return FlowCounts(
        quads=int((sizes == 4).sum()),
        triangles=int((sizes == 3).sum()),
        ngons=int((sizes > 4).sum()),
        poles3=int((inner == 3).sum()),
        poles5=int((inner == 5).sum()),
        poles6=int((inner >= 6).sum()),
        stray=int(((inner == 2) | (inner == 0)).sum()),
        t_junctions=loose[0],
        warped=int(warped.sum()),
        borders=loose[1],
    )


def _valence(mesh: Mesh) -> Ints:
    """How many edges each vertex (V,) has."""
    valence = mesh.edges.valence
    return np.concatenate(
        [valence, np.zeros(mesh.vertex_count - len(valence), dtype=valence.dtype)]
    )


def _valence_and_border(mesh: Mesh, vertices: Ints) -> tuple[Ints, Bools]:
    """How many edges some vertices have, and whether they lie on a border."""
    known = mesh.edges.valence
    valence = np.zeros(len(vertices), dtype=known.dtype)
    there = vertices < len(known)
    valence[there] = known[vertices[there]]
    return valence, found_in(
        vertices, distinct(mesh.edges.ends[np.flatnonzero(mesh.edges.border)].ravel())
    )


def _on_border(mesh: Mesh) -> Bools:
    mask = np.zeros(mesh.vertex_count, dtype=bool)
    if mesh.edges.border.any():
        mask[mesh.edges.ends[mesh.edges.border].ravel()] = True
    return mask
