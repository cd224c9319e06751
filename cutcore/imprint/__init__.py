"""Imprint: turn a trace into faces. The one way every cut takes.

`subdivide` works out the new faces of what is touched; that is all a plan needs. `assemble` puts
them into a new mesh and copies the rest in bulk.
"""

from __future__ import annotations

import numpy as np

from cutcore.geometry.arrays import INDEX
from cutcore.imprint.assemble import assemble
from cutcore.imprint.subdivision import Subdivision, subdivide
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note
from cutcore.progress import come_to
from cutcore.trace.trace import Trace

__all__ = ["Subdivision", "assemble", "imprinted", "subdivide"]

NOTHING = Note("nothing-to-do", "The cut adds nothing: everything it would add is there already.")


def imprinted(mesh: Mesh, trace: Trace, *, weld: float | None = None) -> Result:
    """The mesh with a trace cut into it; the mesh given stays as it is.

    Vertices keep their numbers and new ones come after. A touched face keeps its number for the
    child that holds its first corner; its other children come after all old faces. Raises
    ImprintError, naming the face, if its lines can't be laid into simple faces."""
    come_to("laying lines into faces")
    cut = subdivide(mesh, trace, weld=weld_of(mesh) if weld is None else weld)
    if cut.adds_nothing:
        return Result(mesh, Origin.same(mesh), Picked(), (*trace.notes, NOTHING))
    come_to("putting the mesh together")
    made = assemble(mesh, cut)
    vertex = np.arange(made.vertex_count, dtype=INDEX)
    vertex[mesh.vertex_count :] = -1
    face = np.arange(made.face_count, dtype=INDEX)
    face[mesh.face_count :] = cut.extra_parents
    kept = np.arange(mesh.face_count, dtype=INDEX)
    kept[cut.faces] = -1
    return Result(made, Origin(face, vertex, kept), Picked(edges=cut.new_edges), trace.notes)
