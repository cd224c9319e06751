"""Regions: patches, connected faces, borders, growing and shrinking, and the places of the flow
report."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cutcore.aiming.picking.pointer import Kind
from cutcore.geometry.arrays import Bools, Ints
from cutcore.geometry.components import components
from cutcore.mesh.mesh import Mesh
from cutcore.queries.flow import flow

FlowKind = Literal[
    "ngons",
    "triangles",
    "quads",
    "warped",
    "blunt",
    "sharp",
    "folded",
    "spirals",
    "poles",
    "poles3",
    "poles5",
    "poles6",
    "stray",
    "t_junctions",
    "borders",
]


def count_of(mesh: Mesh, kind: Kind) -> int:
    return {"vertices": mesh.vertex_count, "edges": len(mesh.edges), "faces": mesh.face_count}[kind]


def connected(mesh: Mesh, kind: Kind, elements: Ints) -> Ints:
    """Everything of a kind on the shells that some elements lie on."""
    label = components(mesh.edges.ends, mesh.vertex_count)[1]
    of = {
        "vertices": label,
        "edges": label[mesh.edges.ends[:, 0]],
        "faces": label[mesh.corners[mesh.starts[:-1]]],
    }[kind]
    return np.flatnonzero(np.isin(of, of[elements]))


def faces_at(mesh: Mesh, kind: Kind, elements: Ints) -> Ints:
    """The faces that elements are, or that have a vertex of them."""
    if kind == "faces":
        return elements
    return np.flatnonzero(_touching(mesh, "faces", _vertices_of(mesh, kind, elements)))


def patch_of(mesh: Mesh, faces: Ints) -> Ints:
    """All faces of the patches that some faces belong to; of faces in no patch, all faces in
    none."""
    return np.flatnonzero(np.isin(mesh.patch, mesh.patch[faces]))


def border_of(mesh: Mesh, faces: Ints) -> Ints:
    """The edges round some faces; of no faces, the open borders of the part."""
    if len(faces) == 0:
        return np.flatnonzero(mesh.edges.border)
    inside = np.zeros(mesh.face_count + 1, dtype=bool)
    inside[faces] = True
    two = inside[mesh.edges.faces]  # -1 reads the last entry, which is False
    return np.flatnonzero(two[:, 0] != two[:, 1])


def grown(mesh: Mesh, kind: Kind, elements: Ints) -> Ints:
    """The elements and all that share a vertex with them."""
    return np.flatnonzero(_touching(mesh, kind, _vertices_of(mesh, kind, elements)))


def shrunk(mesh: Mesh, kind: Kind, elements: Ints) -> Ints:
    """The elements without those that share a vertex with one that is not among them, or lie on an
    open border."""
    others = np.setdiff1d(np.arange(count_of(mesh, kind)), elements)
    edge = _vertices_of(mesh, kind, others)
    edge[mesh.edges.ends[mesh.edges.border].ravel()] = True
    return np.setdiff1d(elements, np.flatnonzero(_touching(mesh, kind, edge)))


def inverted(mesh: Mesh, kind: Kind, elements: Ints) -> Ints:
    return np.setdiff1d(np.arange(count_of(mesh, kind)), elements)


def by_flow(mesh: Mesh, what: FlowKind) -> tuple[Kind, Ints]:
    """The faces or vertices that the flow report counts under a name."""
    report = flow(mesh)
    match what:
        case "ngons":
            return "faces", report.faces_ngons
        case "triangles":
            return "faces", report.faces_triangles
        case "quads":
            return "faces", np.flatnonzero(mesh.sizes == 4)
        case "warped":
            return "faces", report.faces_warped
        case "blunt":
            return "faces", report.faces_blunt
        case "sharp":
            return "faces", report.faces_sharp
        case "folded":
            return "faces", report.faces_folded
        case "spirals":
            return "faces", report.faces_spirals
        case "borders":
            return "edges", np.flatnonzero(mesh.edges.border)
        case "t_junctions":
            return "vertices", report.vertices_t_junctions
        case "stray":
            return "vertices", np.union1d(report.vertices_two_valence, report.vertices_isolated)
    least, most = {"poles": (3, np.inf), "poles3": (3, 3), "poles5": (5, 5), "poles6": (6, np.inf)}[
        what
    ]
    chosen = [vertices for valence, vertices in report.poles.items() if least <= valence <= most]
    return "vertices", np.unique(np.concatenate([np.zeros(0, np.int64), *chosen]))


def _vertices_of(mesh: Mesh, kind: Kind, elements: Ints) -> Bools:
    mask = np.zeros(mesh.vertex_count, dtype=bool)
    if kind == "vertices":
        mask[elements] = True
    elif kind == "edges":
        mask[mesh.edges.ends[elements].ravel()] = True
    else:
        mask[mesh.corners[np.isin(mesh.face_of_corner, elements)]] = True
    return mask


def _touching(mesh: Mesh, kind: Kind, vertices: Bools) -> Bools:
    """Which elements have one of some vertices (V,); vertices touch along edges."""
    if kind == "edges":
        return np.asarray(vertices[mesh.edges.ends].any(axis=1))
    if kind == "faces":
        return np.asarray(np.logical_or.reduceat(vertices[mesh.corners], mesh.starts[:-1]))
    near = vertices.copy()
    touching = vertices[mesh.edges.ends].any(axis=1)
    near[mesh.edges.ends[touching].ravel()] = True
    return near
