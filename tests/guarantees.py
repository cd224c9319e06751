"""What must hold after every cut, whatever tool made it; called by the property tests of all
tools."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from cutcore import Mesh, Result, problems
from cutcore.geometry.polygons import distance_to_segments
from cutcore.mesh.edge_table import EdgeTable
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.problems import t_junctions


def area_of(mesh: Mesh) -> float:
    """The area of the mesh as drawn, in triangles: it does not change when a flat face is
    divided."""
    a, b, c = np.moveaxis(mesh.points[mesh.triangles.corners], 1, 0)
    return float(0.5 * np.linalg.norm(np.cross(b - a, c - a), axis=1).sum())


def volume_of(mesh: Mesh) -> float:
    """The enclosed volume, reckoned about the middle of the mesh: far from it the digits would be
    lost."""
    a, b, c = np.moveaxis(mesh.points[mesh.triangles.corners] - mesh.box.mean(axis=0), 1, 0)
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)


def euler_of(mesh: Mesh) -> int:
    used = len(np.unique(mesh.corners))
    return used - len(mesh.edges) + mesh.face_count


def shells_of(mesh: Mesh) -> int:
    """How many groups of faces joined by vertices there are."""
    table = csr_matrix(
        (np.ones(len(mesh.corners)), (mesh.face_of_corner, mesh.corners + mesh.face_count)),
        shape=(mesh.face_count + mesh.vertex_count,) * 2,
    )
    labels = connected_components(table, directed=False)[1]
    return len(np.unique(labels[: mesh.face_count]))


def border_length(mesh: Mesh) -> float:
    ends = mesh.points[mesh.edges.ends[mesh.edges.border]]
    return float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())


def borders_of(mesh: Mesh) -> int:
    """How many separate runs of border edges there are."""
    ends = mesh.edges.ends[mesh.edges.border]
    if len(ends) == 0:
        return 0
    _, inverse = np.unique(ends, return_inverse=True)
    pairs = inverse.reshape(-1, 2)
    table = csr_matrix(
        (np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(pairs.max() + 1,) * 2
    )
    return int(connected_components(table, directed=False)[0])


def faces_at(mesh: Mesh, vertex: int) -> list[int]:
    return np.unique(mesh.face_of_corner[mesh.corners == vertex]).tolist()


def crowded_length(mesh: Mesh) -> float:
    ends = mesh.points[mesh.edges.ends[sorted(mesh.edges.crowded)]]
    return float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())


def assert_tables_true(mesh: Mesh) -> None:
    """A carried-over edge table says the same as one built from scratch."""
    fresh = EdgeTable.build(mesh.starts, mesh.corners, mesh.vertex_count)
    held = mesh.edges
    assert len(fresh) == len(held), f"{len(held)} edges held, {len(fresh)} there"
    assert (fresh.ends[fresh.of_corner] == held.ends[held.of_corner]).all(), (
        "a corner names the wrong edge"
    )
    order = np.lexsort((held.ends[:, 1], held.ends[:, 0]))
    assert (held.ends[order] == fresh.ends).all()
    assert (np.sort(held.faces[order], axis=1) == np.sort(fresh.faces, axis=1)).all(), (
        "an edge names the wrong faces"
    )
    number = {tuple(pair): k for k, pair in enumerate(fresh.ends.tolist())}
    said = {
        number[tuple(held.ends[e].tolist())]: sorted(faces) for e, faces in held.crowded.items()
    }
    assert said == {e: sorted(faces) for e, faces in fresh.crowded.items()}


def problems_anew(before: Mesh, result: Result) -> set[str]:
    """What is wrong with a cut mesh that was not before.

    Another border may have lain within the tolerance of the edge a vertex was put on: a part may
    have two layers as near to each other as it likes, or a tip as thin, and the vertex then lies on
    both.
    """
    after, weld = result.mesh, weld_of(before)
    found = {note.code for note in problems(after)} - {note.code for note in problems(before)}
    if "t-junction" in found:
        border = np.flatnonzero(before.edges.border)
        ends = before.edges.ends[border]
        stray = t_junctions(after, weld=weld)
        near = (
            distance_to_segments(
                after.points[stray], before.points[ends[:, 0]], before.points[ends[:, 1]]
            )
            <= weld
        )
        if (near.sum(axis=1) > 1).all():
            found.remove("t-junction")
    return found


def assert_guarantees(
    before: Mesh, result: Result, *, flat: bool, bend: float | None = None
) -> None:
    """Sound faces, no new borders, area, volume and topology kept, origin maps true.

    `flat` says that the faces of `before` are flat: then measures are kept to rounding; else to 5
    %, or to `bend`."""
    after, weld = result.mesh, weld_of(before)
    found = problems_anew(before, result)
    assert not found, f"the cut brought about: {sorted(found)}"
    assert_tables_true(after)
    # Far from the origin a coordinate has lost as many digits as it is far away: of an area that is
    # as much as its edges are long.
    blur = 4 * np.finfo(float).eps * float(np.abs(before.box).max())
    ends = after.points[after.edges.ends]
    digits = (
        blur
        * float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())
        / max(area_of(before), np.finfo(float).tiny)
    )
    near = 1e-9 + digits if flat else 0.05 if bend is None else bend
    np.testing.assert_allclose(area_of(after), area_of(before), rtol=near)
    if not before.edges.border.any() and not before.edges.crowded:
        # A volume may cancel itself out: it is compared as a share of what the surface could hold.
        room = near * max(area_of(before), area_of(after)) * before.diagonal
        np.testing.assert_allclose(volume_of(after), volume_of(before), rtol=near, atol=room)
        assert not after.edges.border.any(), "a closed mesh has a boundary"
    np.testing.assert_allclose(
        border_length(after), border_length(before), rtol=1e-9, atol=blur * len(after.edges)
    )
    np.testing.assert_allclose(
        crowded_length(after), crowded_length(before), rtol=1e-9, atol=blur * len(after.edges)
    )
    assert euler_of(after) == euler_of(before), "the Euler characteristic changed"
    assert shells_of(after) == shells_of(before), "the number of shells changed"
    assert borders_of(after) == borders_of(before), "the number of boundaries changed"
    assert_origin_true(before, result)
    for a, b in cKDTree(after.points).query_pairs(weld):
        # Two layers of a part may lie as near to each other as they like.
        if min(result.origin.vertex[a], result.origin.vertex[b]) < 0:
            assert not set(faces_at(after, a)) & set(faces_at(after, b)), (
                "a new vertex lies on another vertex"
            )


def assert_origin_true(before: Mesh, result: Result) -> None:
    """The laws of `Origin`, and that untouched faces keep corners, texture places and
    attributes."""
    after, origin = result.mesh, result.origin
    assert len(origin.face) == after.face_count
    assert len(origin.vertex) == after.vertex_count
    assert len(origin.kept) == before.face_count
    for old in np.flatnonzero(origin.kept >= 0).tolist():
        new = int(origin.kept[old])
        assert origin.face[new] == old
        assert (origin.vertex[after.face(new)] == before.face(old)).all()
    came = origin.face >= 0
    assert (after.material[came] == before.material[origin.face[came]]).all()
    assert (after.patch[came] == before.patch[origin.face[came]]).all()
    kept = origin.vertex >= 0
    assert (after.points[kept] == before.points[origin.vertex[kept]]).all()
    assert (before.uv is None) == (after.uv is None)


def assert_same_mesh(a: Mesh, b: Mesh) -> None:
    """The same bytes in every array."""
    for name in ("points", "starts", "corners", "material", "patch", "hard"):
        np.testing.assert_array_equal(getattr(a, name), getattr(b, name), err_msg=name)
    assert (a.uv is None) == (b.uv is None)
    if a.uv is not None:
        np.testing.assert_array_equal(a.uv, b.uv)
