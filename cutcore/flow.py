"""The flow report: what runs well in a mesh and what doesn't, with counts and places.

`flow` reads a whole mesh. `flow_after` says what the counts would be after a cut, from the faces it
touches alone, without building the new mesh.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any
from weakref import WeakKeyDictionary

import numpy as np

from cutcore.arrays import Floats, Ints
from cutcore.imprint.subdivision import Subdivision
from cutcore.mesh import Mesh
from cutcore.problems import t_junctions, zero_area_faces
from cutcore.tolerance import weld_of

# A face is warped if a corner lies further from its mean plane than this share of the root of its area.
WARPED = 0.05


@dataclass(frozen=True)
class FlowCounts:
    """The counts a plan shows. Poles are inner vertices with other than four edges; stray vertices are
    inner vertices with two edges and vertices of no face."""

    quads: int
    triangles: int
    ngons: int
    poles3: int
    poles5: int
    poles6: int
    stray: int


@dataclass(frozen=True, eq=False)
class FlowReport:
    """Counts and places. `faces_*` hold face numbers, `vertices_*` vertex numbers, `edges_*` vertex pairs; `poles`
    the vertices of each valence that makes a pole."""

    counts: FlowCounts
    faces_triangles: Ints
    faces_ngons: Ints
    faces_zero_area: Ints
    faces_warped: Ints
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
        places = {name: getattr(self, name).tolist() for name in self.__dataclass_fields__ if name not in ("counts", "poles")}
        poles = {str(valence): vertices.tolist() for valence, vertices in self.poles.items()}
        return {"counts": asdict(self.counts), "share_of_quads": self.share_of_quads, "poles": poles, **places}


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
        {int(v): np.flatnonzero(inner & (valence == v)) for v in np.unique(valence[inner]) if v > 2 and v != 4},
        two,
        isolated,
        t_junctions(mesh, weld=weld),
        mesh.edges.ends[mesh.edges.border],
        mesh.edges.ends[crowded],
    )


_known: WeakKeyDictionary[Mesh, FlowCounts] = WeakKeyDictionary()


def flow_counts(mesh: Mesh) -> FlowCounts:
    """The counts alone; worked out once for a mesh."""
    counts = _known.get(mesh)
    if counts is None:
        counts = _known[mesh] = _counts(mesh.sizes, _valence(mesh), _on_border(mesh))
    return counts


def flow_after(mesh: Mesh, before: FlowCounts, cut: Subdivision) -> FlowCounts:
    """The counts after a cut, from those before it and the touched faces.

    A new vertex on an edge has that edge's two pieces; every new edge adds one at each of its ends.
    """
    sizes_gone, sizes_new = mesh.sizes[cut.faces], np.diff(cut.loop_starts)
    on_edges = int(cut.split_starts[-1])
    touched = np.unique(cut.new_edges)
    old = touched[touched < mesh.vertex_count]
    added = np.bincount(cut.new_edges.ravel().astype(np.int64), minlength=mesh.vertex_count + len(cut.places))
    valence = np.array([len(mesh.edges.at_vertex(v)) for v in old.tolist()], dtype=np.int64)
    border = np.array([bool(mesh.edges.border[mesh.edges.at_vertex(v)].any()) for v in old.tolist()], dtype=bool)
    fresh = added[mesh.vertex_count :].copy()
    fresh[:on_edges] += 2
    fresh_border = np.zeros(len(fresh), dtype=bool)
    fresh_border[:on_edges] = np.repeat(mesh.edges.border[cut.split_edges], np.diff(cut.split_starts))
    gone = _counts(sizes_gone, valence, border)
    new = _counts(sizes_new, np.concatenate([valence + added[old], fresh]), np.concatenate([border, fresh_border]))
    return FlowCounts(**{k: v - getattr(gone, k) + getattr(new, k) for k, v in asdict(before).items()})


def warped_faces(mesh: Mesh) -> Ints:
    """Faces with a corner off their mean plane by more than WARPED of the root of their area."""
    normals = mesh.face_normals()
    area = np.linalg.norm(normals, axis=1)
    unit = normals / np.maximum(area, 1e-300)[:, None]
    middle = np.add.reduceat(mesh.points[mesh.corners], mesh.starts[:-1]) / mesh.sizes[:, None]
    away = np.abs(
        np.einsum("ij,ij->i", mesh.points[mesh.corners] - np.repeat(middle, mesh.sizes, axis=0), np.repeat(unit, mesh.sizes, axis=0))
    )
    off: Floats = np.maximum.reduceat(away, mesh.starts[:-1])
    return np.flatnonzero(off > WARPED * np.sqrt(area))


def _counts(sizes: Ints, valence: Ints, border: Ints) -> FlowCounts:
    inner = valence[~border.astype(bool)]
    return FlowCounts(
        quads=int((sizes == 4).sum()),
        triangles=int((sizes == 3).sum()),
        ngons=int((sizes > 4).sum()),
        poles3=int((inner == 3).sum()),
        poles5=int((inner == 5).sum()),
        poles6=int((inner >= 6).sum()),
        stray=int(((inner == 2) | (inner == 0)).sum()),
    )


def _valence(mesh: Mesh) -> Ints:
    """How many edges each vertex (V,) has."""
    valence = mesh.edges.valence
    return np.concatenate([valence, np.zeros(mesh.vertex_count - len(valence), dtype=valence.dtype)])


def _on_border(mesh: Mesh) -> Ints:
    mask = np.zeros(mesh.vertex_count, dtype=bool)
    mask[mesh.edges.ends[mesh.edges.border].ravel()] = True
    return mask
