"""Fans: the faces round a vertex, as far as they hang together over edges."""

from __future__ import annotations

from dataclasses import dataclass

from cutcore.errors import StepError
from cutcore.mesh.mesh import Mesh
from cutcore.notes import vertex as vertex_element


@dataclass(frozen=True)
class Fan:
    """Faces round a vertex, counter-clockwise seen from outside.

    Its `corners` (k) lie between `edges`: corner i between edge i, which leaves the vertex in its
    face, and edge i + 1, which comes in. Of an `open` fan there are k + 1 edges, and the first and
    last are borders; else k, and the last corner lies before the first edge again."""

    vertex: int
    corners: tuple[int, ...]
    edges: tuple[int, ...]
    open: bool

    def edge_after(self, corner: int) -> int:
        """The position of the edge that comes in at a corner, by its position."""
        return corner + 1 if self.open else (corner + 1) % len(self.edges)


def fans_of(mesh: Mesh, vertex: int) -> list[Fan]:
    """The fans at a vertex. Raises StepError, with the vertex, where more than two faces meet at an
    edge or two run against each other: there is no going round then."""
    leaves: dict[int, int] = {}
    comes: dict[int, int] = {}
    of_corner = mesh.edges.of_corner
    for face in mesh.edges.faces_at_vertex(vertex).tolist():
        begin, end = int(mesh.starts[face]), int(mesh.starts[face + 1])
        corner = begin + mesh.face(face).tolist().index(vertex)
        before = corner - 1 if corner > begin else end - 1
        out, back = int(of_corner[corner]), int(of_corner[before])
        if out in leaves or back in comes:
            words = "there is no way round this vertex: more than two faces meet at an edge, or two run against each other"
            raise StepError(words, elements=(vertex_element(vertex),))
        leaves[out], comes[back] = corner, corner
    enters = {corner: edge for edge, corner in comes.items()}
    left = set(leaves.values())
    found = []
    # Open ones begin at the border; of a closed one any corner may be the first.
    firsts = [edge for edge in leaves if edge not in comes] + sorted(leaves)
    for edge in firsts:
        if leaves[edge] not in left:
            continue
        corners, edges, at = [], [edge], edge
        while at in leaves and leaves[at] in left:
            corner = leaves[at]
            left.remove(corner)
            corners.append(corner)
            at = enters[corner]
            edges.append(at)
        closed = at == edge
        found.append(
            Fan(vertex, tuple(corners), tuple(edges[:-1] if closed else edges), not closed)
        )
    return found
