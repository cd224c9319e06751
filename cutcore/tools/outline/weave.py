"""A woven outline: the faces it crosses and those inside are laid anew, a collar of quads round it
and quads within."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, cross
from cutcore.geometry.camera import Camera
from cutcore.geometry.polygons import distance_to_segments, loop_area
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.kernels import ease_collar
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then, with_points, without_faces
from cutcore.notes import Note, position
from cutcore.params import Params, Real
from cutcore.quads.grid import corners_of, grid_in
from cutcore.queries.border_loops import border_loops
from cutcore.queries.ray_caster import Shown
from cutcore.trace.trace import IN_FACE, ON_VERTEX, Trace
from cutcore.words import count_of, share_words

# An outline has a sharp corner where it turns by more than this many degrees.
SHARP = 30.0

# Distances up to this share of the part are what rounding leaves.
ROUNDED = 1e-9

# Fewer vertices round an outline than this give no collar to speak of.
FEWEST = 6

# Places along the outline at which the collar may begin, for every vertex round it.
STARTS = 8

# A vertex round the outline nearer to it than so large a share of the edges there is laid anew,
# too; so often that is looked for.
ROOM = 0.4
MOST_GROWN = 3

# The ring inside an outline lies so far on the way from its middle.
RING = 0.5

# So far it goes from the outline's form towards a square.
SQUARED = 0.6


class Weave(Params):
    """How an outline is woven into its surroundings: what lies inside it, and how far the surface
    may move by that."""

    inside: Literal["rings", "grid", "one face"] = "rings"
    most_off: Annotated[Real, Field(ge=0)] | None = None


def woven(
    mesh: Mesh, trace: Trace, inside: Ints, camera: Camera, weave: Weave, limit: Bools | None
) -> Result:
    """The mesh with one closed outline woven in: `trace` is the outline alone, `inside (n,)` the
    faces of the mesh that lie in it, wholly or in part.

    Raises StepError where the faces it crosses do not surround it in one piece, there are too few
    vertices round it, a limit forbids it, or the surface would move further than allowed."""
    ring, faces_of = _ring(trace)
    region = _region(mesh, trace, ring, inside)
    if limit is not None and (region & ~limit).any():
        raise StepError("the outline crosses faces outside the limit: they would be laid anew")
    line = _Line(trace.place[ring], faces_of)
    region, outer = _with_room(mesh, region, line, limit)
    if loop_area(camera.project(mesh.points[outer])) * loop_area(camera.project(line.places)) < 0:
        line = line.turned_round()
    places, owners = _matched(line, mesh.points[outer], camera)
    return _laid(mesh, region, outer, places, owners, camera, weave)


def _ring(trace: Trace) -> tuple[Ints, Ints]:
    """The anchors of a closed outline in order, and the face (n,) of the span after each, -1 along
    an edge."""
    beside: dict[int, list[tuple[int, int]]] = {}
    for (a, b), face in zip(trace.ends.tolist(), trace.face.tolist(), strict=True):
        beside.setdefault(a, []).append((b, face))
        beside.setdefault(b, []).append((a, face))
    if len(beside) < 3 or any(len(others) != 2 for others in beside.values()):
        raise StepError("only an outline that lies on the part all round can be woven in")
    start = min(beside)
    ring, faces = [start], []
    before, now = -1, start
    while True:
        onward, face = next(((b, f) for b, f in beside[now] if b != before), beside[now][0])
        faces.append(face)
        if onward == start:
            break
        ring.append(onward)
        before, now = now, onward
    if len(ring) != len(beside):
        raise StepError("only an outline in one piece can be woven in")
    return np.array(ring), np.array(faces)


def _region(mesh: Mesh, trace: Trace, ring: Ints, inside: Ints) -> Bools:
    """The faces (F,) that are laid anew: those an outline crosses or touches, and those inside."""
    region = np.zeros(mesh.face_count, dtype=bool)
    region[inside] = True
    region[trace.face[trace.face >= 0]] = True
    for anchor in ring.tolist():
        element = int(trace.element[anchor])
        if trace.kind[anchor] == ON_VERTEX:
            region[mesh.edges.faces_at_vertex(element)] = True
        elif trace.kind[anchor] != IN_FACE:
            region[list(mesh.edges.faces_at(element))] = True
    return region


def _with_room(mesh: Mesh, region: Bools, line: _Line, limit: Bools | None) -> tuple[Bools, Ints]:
    """A region, grown by the faces at vertices of its border that lie all but on the outline, where
    that leaves it a patch within the limit; and the loop round it."""
    outer = _outer(mesh, region)
    for _ in range(MOST_GROWN):
        places = mesh.points[outer]
        sides = np.linalg.norm(np.roll(places, -1, axis=0) - places, axis=1)
        long = 0.5 * (sides + np.roll(sides, 1))
        away = distance_to_segments(places, line.places, np.roll(line.places, -1, axis=0))
        near = outer[away.min(axis=1) < ROOM * long]
        if len(near) == 0:
            break
        grown = region.copy()
        for vertex in near.tolist():
            grown[mesh.edges.faces_at_vertex(vertex)] = True
        if limit is not None and (grown & ~limit).any():
            break
        try:
            outer = _outer(mesh, grown)
        except StepError:
            break
        region = grown
    return region, outer


def _outer(mesh: Mesh, region: Bools) -> Ints:
    """The loop of vertices round some faces, in their direction. Raises StepError unless they are
    one piece without holes."""
    faces = np.flatnonzero(region)
    rest = without_faces(mesh, ~region)[0]
    loops = border_loops(rest, rest.edges.ends[rest.edges.border])
    euler = rest.vertex_count - len(rest.edges) + rest.face_count
    loose = int((~mesh.used).sum())
    if len(loops) != 1 or euler - loose != 1 or rest.edges.crowded:
        raise StepError(
            "the faces that the outline crosses are no single patch without holes: nothing can be "
            "woven there",
            elements=(position(mesh.points[mesh.face(int(faces[0]))].mean(axis=0)),),
        )
    used = np.zeros(mesh.vertex_count, dtype=bool)
    used[mesh.corners[region[mesh.face_of_corner]]] = True
    number = np.flatnonzero(used | ~mesh.used)
    # A border loop runs against the faces beside it.
    return np.asarray(number[loops[0]][::-1])


@dataclass(frozen=True, eq=False)
class _Line:
    """A closed outline on the surface: `places (n, 3)`, and the face (n,) of the stretch after
    each."""

    places: Floats
    faces: Ints

    def turned_round(self) -> _Line:
        return _Line(self.places[::-1], np.roll(self.faces[::-1], -1))

    @cached_property
    def lengths(self) -> Floats:
        """How far along (n + 1,) each place is; the last is the whole length."""
        steps = np.linalg.norm(np.roll(self.places, -1, axis=0) - self.places, axis=1)
        return np.concatenate([[0.0], np.cumsum(steps)])

    def at(self, along: Floats) -> tuple[Floats, Ints]:
        """Places (m, 3) so far along, and the face each lies in."""
        lengths = self.lengths
        along = along % lengths[-1]
        k = np.clip(np.searchsorted(lengths, along, side="right") - 1, 0, len(self.places) - 1)
        size = np.maximum(lengths[k + 1] - lengths[k], np.finfo(float).tiny)
        share = ((along - lengths[k]) / size)[:, None]
        here, there = self.places[k], self.places[(k + 1) % len(self.places)]
        return here + share * (there - here), self.faces[k]

    def corners(self) -> Ints:
        """Which places are sharp corners."""
        back = self.places - np.roll(self.places, 1, axis=0)
        ahead = np.roll(self.places, -1, axis=0) - self.places
        turn = np.linalg.norm(cross(back, ahead), axis=1)
        angle = np.degrees(np.arctan2(turn, np.einsum("ij,ij->i", back, ahead)))
        return np.flatnonzero(angle > SHARP)


def _matched(line: _Line, outer: Floats, camera: Camera) -> tuple[Floats, Ints]:
    """One place on the outline for each vertex round it (n, 3), in order, with the face it lies in.

    They begin where the sum of squared distances is least; sharp corners of the outline are taken
    by the nearest, the others are spread by length between these and then go along the outline to
    where the quads of the collar are best."""
    count = len(outer)
    lengths = line.lengths
    whole = float(lengths[-1])
    corners = line.corners()
    needed = max(FEWEST, len(corners))
    if count < needed:
        words = (
            f"{count} vertices lie round the outline, {needed} are needed to weave it in: divide "
            "the faces there first"
        )
        raise StepError(words, elements=(position(outer.mean(axis=0)),))
    even = np.arange(count) * whole / count
    starts = np.arange(STARTS * count) * whole / (STARTS * count)
    every = line.at((starts[:, None] + even).ravel())[0].reshape(len(starts), count, 3)
    away = ((every - outer) ** 2).sum(axis=(1, 2))
    begin = float(starts[int(np.argmin(away))])
    loop, flat = _seen_upright(camera, outer, line.places)

    def eased(taken: Ints) -> tuple[float, Floats, Bools]:
        along, fixed = begin + even, np.zeros(count, dtype=bool)
        if len(taken):
            turns = np.arange(taken[0], taken[0] + count)
            ends = np.append(taken, taken[0] + count)
            along[turns % count] = begin + np.interp(
                turns, ends, np.append(ahead, ahead[0] + whole)
            )
            fixed[taken % count] = True
        along = along[0] + (along - along[0]) % whole
        return ease_collar(loop, flat, lengths, along, fixed), along, fixed

    ahead = np.sort((lengths[corners] - begin) % whole)
    taken = _nearest_in_order(line.at(begin + ahead)[0], outer)
    cost, along, fixed = eased(taken)
    # A corner may be better off with the vertex before or after.
    for k, way in [(k, way) for k in range(len(taken)) for way in (-1, 1)] * 2:
        other = taken.copy()
        other[k] += way
        if (np.diff(np.append(other, other[0] + count)) > 0).all():
            trial = eased(other)
            if trial[0] < cost:
                taken, (cost, along, fixed) = other, trial
    places, faces = line.at(along)
    # Corners keep every digit.
    for k in np.flatnonzero(fixed).tolist():
        gap = np.abs((lengths[corners] - along[k] + 0.5 * whole) % whole - 0.5 * whole)
        places[k] = line.places[corners[int(np.argmin(gap))]]
    return places, faces


def _seen_upright(camera: Camera, outer: Floats, line: Floats) -> tuple[Floats, Floats]:
    """A loop and a line in the camera's pixels, mirrored if the loop runs clockwise there."""
    loop, flat = camera.project(outer), camera.project(line)
    return (loop, flat) if loop_area(loop) > 0 else (loop * [1.0, -1.0], flat * [1.0, -1.0])


def _nearest_in_order(places: Floats, outer: Floats) -> Ints:
    """For places (c, 3) along an outline the nearest vertex of the loop (n, 3) round it, as numbers
    that ascend over one turn, none twice."""
    count = len(outer)
    taken = [int(np.argmin(((outer - place) ** 2).sum(axis=1))) for place in places]
    for k in range(1, len(taken)):
        behind = taken[k - 1] - taken[k]
        taken[k] += count * round(max(behind, 0) / count)
        taken[k] = max(taken[k], taken[k - 1] + 1)
    for k in range(len(taken) - 1, -1, -1):
        following = taken[0] + count if k == len(taken) - 1 else taken[k + 1]
        taken[k] = min(taken[k], following - 1)
    return np.array(taken, dtype=np.int64)


def _laid(
    mesh: Mesh,
    region: Bools,
    outer: Ints,
    places: Floats,
    owners: Ints,
    camera: Camera,
    weave: Weave,
) -> Result:
    """The mesh with a region replaced by a collar from its border to an outline, and what lies
    inside that."""
    count, first = len(outer), mesh.vertex_count
    old = Shown(mesh, np.flatnonzero(region))
    line = first + np.arange(count)
    ahead = np.roll(np.arange(count), -1)
    faces: list[Ints] = list(np.stack([outer, outer[ahead], line[ahead], line], axis=1))
    inner: list[Ints] = []
    points = places
    loop = line
    if weave.inside == "rings":
        middle = places.mean(axis=0)
        ring = _dropped(camera, old, _squared(middle + RING * (places - middle)))
        loop = first + len(points) + np.arange(count)
        points = np.concatenate([points, ring])
        inner += list(np.stack([line, line[ahead], loop[ahead], loop], axis=1))
    if weave.inside == "one face" or count % 2:
        inner.append(loop)
    else:
        within, grid = grid_in(points[loop - first], None)
        name = np.concatenate([loop, first + len(points) + np.arange(len(within))])
        points = np.concatenate([points, _dropped(camera, old, within)])
        inner += [name[quad] for quad in grid]
    faces += inner
    off = _greatest_gap(mesh, region, np.concatenate([mesh.points, points]), faces, camera, old)
    if weave.most_off is not None and off > weave.most_off + ROUNDED * mesh.diagonal:
        raise StepError(
            f"the surface would move by {share_words(off / mesh.diagonal)} of the part there, more "
            "than is allowed",
            where="weave.most_off",
            elements=(position(places.mean(axis=0)),),
        )
    result = _replaced(
        mesh, region, points, faces, len(inner), (outer, places, owners, camera, old)
    )
    notes = (
        []
        if off <= ROUNDED * mesh.diagonal
        else [
            Note(
                "surface-moved",
                f"The surface moves by up to {share_words(off / mesh.diagonal)} of the part.",
                (position(places.mean(axis=0)),),
            )
        ]
    )
    if count % 2 and weave.inside != "one face":
        words = f"{count_of(count, 'vertex', 'vertices')} lie round it, an odd number: its inside is one face."
        notes.append(Note("odd-outline", words, (position(places.mean(axis=0)),)))
    return Result(result.mesh, result.origin, result.picked, tuple(notes), mended=result.mended)


def _squared(ring: Floats) -> Floats:
    """A ring (n, 3) drawn towards the four sides between the corners of the grid it will hold, so
    that these are no straight ones."""
    if len(ring) % 2:
        return ring
    corner = corners_of(ring)
    ends = np.append(corner, corner[0] + len(ring))
    turns = np.arange(corner[0], corner[0] + len(ring))
    found = ring.copy()
    for k in range(3):
        side = np.interp(turns, ends, ring[ends % len(ring), k])
        found[turns % len(ring), k] = (1 - SQUARED) * ring[turns % len(ring), k] + SQUARED * side
    return found


def _dropped(camera: Camera, old: Shown, places: Floats) -> Floats:
    """Places (n, 3) put along their lines of sight onto the faces there were; those that miss them
    stay."""
    if len(places) == 0:
        return places
    origins, sights = camera.rays(camera.project(places), reach=_far(camera, places))
    hits = old.caster.first(origins, sights)
    there = np.isfinite(hits.distance) & (hits.face >= 0)
    away = np.where(there, hits.distance, 0.0)[:, None]
    return np.where(there[:, None], origins + away * sights, places)


def _far(camera: Camera, places: Floats) -> float:
    """How far behind the eye of a parallel view rays begin, so that nothing lies before them."""
    if not camera.parallel:
        return 0.0
    spread = float(np.linalg.norm(np.ptp(places, axis=0)))
    return float(np.abs(camera.depth(places)).max()) + 10.0 * spread


def _greatest_gap(
    mesh: Mesh, region: Bools, points: Floats, faces: list[Ints], camera: Camera, old: Shown
) -> float:
    """The greatest distance between the faces that go and those that come: middles of faces and
    edges, and the vertices that go, along their lines of sight, square to what they meet."""
    fresh = Mesh.of(points, faces)
    new = np.concatenate(
        [
            np.array([points[face].mean(axis=0) for face in faces]),
            points[fresh.edges.ends].mean(axis=1),
        ]
    )
    gone = mesh.points[np.unique(mesh.corners[region[mesh.face_of_corner]])]
    come = Shown(fresh, np.arange(fresh.face_count))
    return max(_gap(mesh, old, new, camera), _gap(fresh, come, gone, camera))


def _gap(mesh: Mesh, shown: Shown, places: Floats, camera: Camera) -> float:
    origins, sights = camera.rays(camera.project(places), reach=_far(camera, places))
    hits = shown.caster.first(origins, sights)
    there = np.flatnonzero(np.isfinite(hits.distance) & (hits.face >= 0))
    if len(there) == 0:
        return 0.0
    met = origins[there] + hits.distance[there, None] * sights[there]
    a, b, c = np.moveaxis(mesh.points[mesh.triangles.corners[hits.triangle[there]]], 1, 0)
    normal = cross(b - a, c - a)
    size = np.maximum(np.linalg.norm(normal, axis=1), np.finfo(float).tiny)
    return float((np.abs(np.einsum("ij,ij->i", places[there] - met, normal)) / size).max())


def _replaced(
    mesh: Mesh,
    region: Bools,
    points: Floats,
    faces: list[Ints],
    inside: int,
    ground: tuple[Ints, Floats, Ints, Camera, Shown],
) -> Result:
    """The mesh without a region and with new faces, which carry what the face below their middle
    does; the last `inside` of them are picked."""
    first = mesh.vertex_count
    whole = with_points(mesh, points)
    every = np.concatenate([mesh.points, points])
    camera, old = ground[3], ground[4]
    middles = np.array([every[face].mean(axis=0) for face in faces])
    below = _faces_below(camera, old, middles, np.flatnonzero(region))
    sizes = np.array([len(face) for face in faces])
    corners = np.concatenate([mesh.corners, *faces])
    uv = None
    if mesh.uv is not None:
        uv = np.concatenate(
            [
                mesh.uv,
                *(
                    _texture(mesh, int(f), every[face])
                    for f, face in zip(below, faces, strict=True)
                ),
            ]
        )
    grown = whole.rebuilt(
        whole.points,
        np.concatenate([mesh.starts, mesh.starts[-1] + np.cumsum(sizes)]),
        corners,
        edge_data=mesh.edge_data,
        further_from=below,
        uv=uv,
    )
    gone = np.zeros(grown.face_count, dtype=bool)
    gone[: mesh.face_count] = region
    made, cut = without_faces(grown, gone)
    kept = np.arange(mesh.face_count)
    origin = then(
        Origin(
            np.concatenate([kept, below]),
            np.concatenate([np.arange(first), np.full(len(points), -1)]),
            kept,
        ),
        cut,
    )
    # Of edges that carry something those that are gone may have had both ends outside.
    data, there = made.edge_data, made.edges.ends
    made = made.carrying(data.taken(data.rows_of(there, made.vertex_count), there))
    number = np.full(grown.vertex_count, -1, dtype=np.int64)
    number[cut.vertex] = np.arange(made.vertex_count)
    count = len(ground[0])
    line = number[first + np.arange(count)]
    edges = np.sort(np.stack([line, np.roll(line, -1)], axis=1), axis=1)
    fresh = np.arange(made.face_count - len(faces), made.face_count)
    sides = made.edges.ends[np.unique(made.edges.of_corner[np.isin(made.face_of_corner, fresh)])]
    weights = np.array([made.vertex_count, 1])
    new = (origin.vertex[sides] < 0).any(axis=1) & ~np.isin(
        sides.astype(np.int64) @ weights, edges @ weights
    )
    return Result(
        made,
        origin,
        Picked(fresh[len(faces) - inside :], edges),
        mended=sides[new].astype(np.int64),
    )


def _faces_below(camera: Camera, old: Shown, places: Floats, region: Ints) -> Ints:
    """The face of the region that lies under each place (n,); the first where none does."""
    origins, sights = camera.rays(camera.project(places), reach=_far(camera, places))
    face = old.caster.first(origins, sights).face
    return np.where(face >= 0, face, region[0])


def _texture(mesh: Mesh, face: int, places: Floats) -> Floats:
    """Texture places (n, 2) at places near a face, by the linear map that fits its corners best; at
    its corners their own."""
    assert mesh.uv is not None
    row = slice(mesh.starts[face], mesh.starts[face + 1])
    corners, values = mesh.points[mesh.corners[row]], mesh.uv[row]
    middle, mean = corners.mean(axis=0), values.mean(axis=0)
    gradient, *_ = np.linalg.lstsq(corners - middle, values - mean, rcond=NEGLIGIBLE)
    found = mean + (places - middle) @ gradient
    away = np.linalg.norm(corners[:, None] - places[None], axis=2)
    same = away <= ROUNDED * mesh.diagonal
    at = np.flatnonzero(same.any(axis=0))
    found[at] = values[np.argmax(same[:, at], axis=0)]
    return np.asarray(found)
