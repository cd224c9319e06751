"""A hole right through: what lies inside outlines is taken off on every side, and the rims are
joined by walls along the line of sight."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.imprint import imprinted
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then, with_faces, without_faces
from cutcore.notes import Note, position
from cutcore.queries.bodies import is_closed
from cutcore.tools.outline.rims import Loops, Rim, Stations, rim_edges, rim_of
from cutcore.trace.trace import ON_EDGE, TraceBuilder


def holed(
    before: Mesh, cut: Result, inside: list[Bools], seen: list[Loops], *, weld: float
) -> Result:
    """What was cut along outlines right through, without the faces inside, and with walls from
    every surface that the line of sight enters by to the one it leaves by.

    `inside` are the faces (F,) within the outlines of each way they are `seen`. Every station of
    one rim is one of the other, so that walls are quads. The walls are picked.

    Raises StepError where nothing lies inside; where the outline leaves the part so that no wall closes it; and
    where surfaces don't come in pairs, of a part that is closed."""
    every = np.any(inside, axis=0)
    if not every.any():
        raise StepError("nothing of the part lies inside the outline", where="curves")
    mesh = cut.mesh
    edges = rim_edges(mesh, every)
    owner = _owner(mesh, edges, seen)
    drawn = [
        _missing(mesh, *rim_of(mesh, every, edges[owner == k], loops, weld), loops, weld)
        for k, loops in enumerate(seen)
        if (owner == k).any()
    ]
    matched = _matched(cut, drawn, weld)
    # Splitting edges leaves faces their numbers.
    mesh = matched.mesh
    edges = rim_edges(mesh, every)
    owner = _owner(mesh, edges, seen)
    walls: list[Ints] = []
    notes: list[Note] = []
    for k, loops in enumerate(seen):
        if (owner == k).any():
            rim, _ = rim_of(mesh, every, edges[owner == k], loops, weld)
            made, layers, loose = _walls(mesh, rim)
            walls += made
            notes += _told(mesh, layers, loose)
    if every.all():
        raise StepError("nothing of the part would be left", where="curves")
    left, origin = without_faces(mesh, every)
    number = np.full(mesh.vertex_count, -1, dtype=np.int64)
    number[origin.vertex] = np.arange(left.vertex_count)
    made_mesh = with_faces(left, [number[wall] for wall in walls])
    if is_closed(before) and not is_closed(made_mesh):
        edge = int(np.argmax(made_mesh.edges.border))
        at = made_mesh.points[made_mesh.edges.ends[edge]].mean(axis=0)
        words = "the outline leaves the part there, and no wall closes the hole"
        raise StepError(words, where="curves", elements=(position(at),))
    whole = then(matched.origin, origin)
    whole = Origin(np.concatenate([whole.face, np.full(len(walls), -1)]), whole.vertex, whole.kept)
    picked = Picked(faces=np.arange(left.face_count, made_mesh.face_count))
    return Result(made_mesh, whole, picked, (*matched.notes, *notes))


def _owner(mesh: Mesh, edges: Ints, seen: list[Loops]) -> Ints:
    """Along the outlines of which view each rim edge (n,) runs."""
    middle = mesh.points[mesh.edges.ends[edges]].mean(axis=1)
    gaps = []
    for loops in seen:
        away = loops.nearest(loops.camera.project(middle))[1]
        depth = np.ones(len(middle)) if loops.camera.parallel else loops.camera.depth(middle)
        gaps.append(away * depth / loops.camera.scale)
    return np.argmin(gaps, axis=0)


def _missing(
    mesh: Mesh, rim: Rim, stations: Stations, loops: Loops, weld: float
) -> list[tuple[int, float]]:
    """The edges of a rim that run over stations, and at which share from their lower vertex each of
    these lies."""
    found = []
    points, camera = mesh.points, loops.camera
    for row in np.flatnonzero(stations.following[rim.ends[:, 0]] != rim.ends[:, 1]).tolist():
        edge, (a, b) = int(rim.edge[row]), rim.forward[row].tolist()
        first, last = rim.ends[row].tolist()
        stretch = stations.stretch[first]
        begin, end = camera.project(points[[a, b]])
        deep = np.ones(2) if camera.parallel else camera.depth(points[[a, b]])
        on = stations.following[first]
        while on != last:
            along = loops.end[stretch] - loops.start[stretch]
            pixel = loops.start[stretch] + stations.share[on] * along
            share = _share_seen(begin, end, deep, pixel)
            found.append((edge, share if a < b else 1.0 - share))
            on = stations.following[on]
    return found


def _share_seen(begin: Floats, end: Floats, deep: Floats, pixel: Floats) -> float:
    """At which share of an edge, seen from `begin` to `end` (2,) with ends so `deep` (2,), the place
    lies that is seen at a pixel. Equal steps of the picture are equal steps of 1 over the depth."""
    along = end - begin
    seen = float((pixel - begin) @ along) / float(along @ along)
    return seen * float(deep[0]) / (float(deep[1]) + seen * float(deep[0] - deep[1]))


def _matched(cut: Result, drawn: list[list[tuple[int, float]]], weld: float) -> Result:
    """The cut mesh with its rim edges split at the stations they run over."""
    places = [place for rows in drawn for place in rows]
    if not places:
        return cut
    builder = TraceBuilder(cut.mesh, weld)
    for edge, share in places:
        builder.on_edge(edge, share)
    trace = builder.build()
    split = imprinted(cut.mesh, replace(trace, stands=trace.kind == ON_EDGE), weld=weld)
    return Result(split.mesh, then(cut.origin, split.origin), cut.picked, cut.notes)


def _walls(mesh: Mesh, rim: Rim) -> tuple[list[Ints], int, list[int]]:
    """Walls as loops of vertices; how many surfaces lie one behind another at most; and the rows of
    the rim that nothing is joined to."""
    walls: list[Ints] = []
    loose: list[int] = []
    layers = 0
    order = np.lexsort((rim.depth, rim.ends[:, 0]))
    groups = np.split(order, np.flatnonzero(np.diff(rim.ends[order, 0])) + 1)
    for group in groups:
        layers = max(layers, len(group))
        near: int | None = None
        for row in group.tolist():
            if near is None and rim.enters[row]:
                near = row
            elif near is not None and not rim.enters[row]:
                wall = _wall(mesh, rim, near, row)
                if len(wall) > 2:
                    walls.append(wall)
                near = None
            else:
                loose += [row] if near is None else [near]
                near = row if rim.enters[row] else None
        loose += [] if near is None else [near]
    return walls, layers, loose


def _wall(mesh: Mesh, rim: Rim, near: int, far: int) -> Ints:
    """The wall between two rim edges, against the directions of the faces beside it; where the rim
    runs from one to the other it has the vertices between."""
    (a, b), (c, d) = rim.forward[near].tolist(), rim.forward[far].tolist()
    loop = mesh.face(int(rim.outside[near])).tolist()
    with_it = loop[(loop.index(a) + 1) % len(loop)] == b
    first, last = (
        _between(rim, int(station), pair)
        for station, pair in zip(rim.ends[near], ((a, c), (b, d)), strict=True)
    )
    wall = [b, a, *first, c, d, *last[::-1]] if with_it else [a, b, *last, d, c, *first[::-1]]
    return np.array([v for k, v in enumerate(wall) if v != wall[k - 1]])


def _between(rim: Rim, station: int, pair: tuple[int, int]) -> list[int]:
    """The vertices of the rim at a station between two of its vertices, from the nearer one on."""
    column = rim.columns.get(station, [])
    if pair[0] not in column or pair[1] not in column:
        return []
    return column[column.index(pair[0]) + 1 : column.index(pair[1])]


def _told(mesh: Mesh, layers: int, loose: list[int]) -> list[Note]:
    notes = []
    if layers > 2:
        pairs = ", ".join(f"{k} with {k + 1}" for k in range(1, layers, 2))
        words = (
            f"The outline goes through {layers} surfaces: it joins {pairs}, counted from the eye."
        )
        notes.append(Note("hole-layers", words))
    if loose:
        words = (
            "A surface inside the outline has none behind it to be joined to: its rim stays open."
        )
        notes.append(Note("hole-open", words))
    return notes
