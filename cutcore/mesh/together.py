"""Several meshes put into one, side by side: nothing is joined."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from cutcore.geometry.arrays import Floats, Ints
from cutcore.mesh.mesh import Mesh


def together(meshes: Sequence[Mesh]) -> Mesh:
    """One mesh with the faces of some, at least one, in that order.

    The vertices of mesh k come after those of the meshes before it, its faces likewise. Materials
    and patches of the same name become one. Where only some have texture places, the corners of the
    others have none (NaN)."""
    if len(meshes) == 1:
        return meshes[0]
    vertices = np.cumsum([0, *(mesh.vertex_count for mesh in meshes)])
    corners = np.cumsum([0, *(len(mesh.corners) for mesh in meshes)])
    material, materials = _named(meshes, "material", "materials")
    patch, patches = _named(meshes, "patch", "patches")
    shifted = list(zip(meshes, vertices.tolist(), strict=False))
    first, *others = (mesh.edge_data.shifted(before) for mesh, before in shifted)
    made = Mesh(
        np.concatenate([mesh.points for mesh in meshes]),
        np.concatenate(
            [
                [0],
                *(mesh.starts[1:] + first for mesh, first in zip(meshes, corners, strict=False)),
            ]
        ),
        np.concatenate([mesh.corners + first for mesh, first in shifted]),
        _texture_places(meshes),
        material,
        patch,
        materials,
        patches,
    )
    return made.rebuilt(made.points, made.starts, made.corners, edge_data=first.with_more(*others))


def _texture_places(meshes: Sequence[Mesh]) -> Floats | None:
    if all(mesh.uv is None for mesh in meshes):
        return None
    none = [np.full((len(mesh.corners), 2), np.nan) for mesh in meshes]
    return np.concatenate(
        [empty if mesh.uv is None else mesh.uv for mesh, empty in zip(meshes, none, strict=True)]
    )


def _named(meshes: Sequence[Mesh], numbers: str, names: str) -> tuple[Ints, tuple[str, ...]]:
    """The names that some meshes have, each once, and which of them (F,) each face has."""
    table: dict[str, int] = {}
    rows = []
    for mesh in meshes:
        new = [table.setdefault(name, len(table)) for name in getattr(mesh, names)]
        rows.append(np.array([*new, -1], dtype=np.int64)[getattr(mesh, numbers)])
    return np.concatenate(rows), tuple(table)
