"""Bevel: edges cut off at a width, flat or round, or vertices cut off into faces."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cutcore.errors import StepError
from cutcore.geometry.arrays import Bools, Floats, Ints, next_in_row, row_positions, starts_of
from cutcore.geometry.tolerances import NEGLIGIBLE
from cutcore.kernels import unsound_rows
from cutcore.mesh.changed_edges import edges_of_moved_vertices
from cutcore.mesh.edge_data import EdgeData
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.texture_map import texture_gradient
from cutcore.mesh.tolerance import weld_of
from cutcore.notes import Note, position
from cutcore.notes import edge as edge_element
from cutcore.notes import vertex as vertex_element
from cutcore.params import Length, Real
from cutcore.progress import one_by_one
from cutcore.queries.fans import fans_of
from cutcore.queries.named_elements import Edges, Vertices, edges_named, vertex_mask
from cutcore.queries.problems import flat_among
from cutcore.reshape.building.bevel.offsets import Opened, opened
from cutcore.reshape.building.bevel.profiles import CornerPatch, Profile
from cutcore.reshape.legal import crossed_anew, folded_anew
from cutcore.tool import Example, Reshape, Reshaping, one_kind
from cutcore.words import count_of, length_words

# Of the room there is so much is taken at most: what is left keeps edges from shrinking to nothing.
SHARE_OF_ROOM = 0.99
# So often the width is halved to find one that there is room for.
HALVINGS = 8
# Widths that differ by more than this share are told.
UNEVEN = 1e-6


class BevelParams(Reshaping):
    """The `edges` to be cut off, or the `vertices`. In the faces on both sides new edges run at the
    `width` from where these were; where there is no room for it, as far as there is.

    Between them lie so many `rounds` of quads, by a `profile` from hollow (-1) over straight (0) to
    round (1). Vertices are cut off flat, at the width along each edge."""

    tool: Literal["bevel"] = "bevel"
    edges: Edges | None = None
    vertices: Vertices | None = None
    width: Length
    rounds: Annotated[int, Field(ge=1, le=8)] = 1
    profile: Annotated[Real, Field(ge=-1, le=1)] = 1.0

    @model_validator(mode="after")
    def _has_one_kind(self) -> Self:
        one_kind("name either edges or vertices", self.edges, self.vertices)
        return self


def apply(mesh: Mesh, params: BevelParams) -> Result:
    """A closed part stays closed. The new faces are picked.

    Raises StepError, with the place, at borders, where more than two faces meet, and where a face
    would fold over or cross itself at any width."""
    edges = np.zeros(0, np.int64) if params.edges is None else edges_named(mesh, params.edges)
    _refuse_open(mesh, edges)
    vertices = np.unique(mesh.edges.ends[edges])
    if params.vertices is not None:
        vertices = np.flatnonzero(vertex_mask(mesh, params.vertices))

    def bevelled(width: float) -> Result:
        bevelling = _Bevelling(mesh, set(edges.tolist()), params, width)
        for vertex in one_by_one("opening the edges", vertices.tolist()):
            bevelling.open(vertex, alone=params.vertices is not None)
        return bevelling.made()

    try:
        return bevelled(params.width)
    except _NoRoom as refusal:
        return _narrower(bevelled, params.width, refusal)


class _NoRoom(StepError):
    """A bevel of such a width leaves faces that are no sound ones."""


def _narrower(bevelled: Callable[[float], Result], width: float, refusal: _NoRoom) -> Result:
    """The bevel of the greatest width there is room for, to a share of the one that was refused. Raises
    the refusal where there is no room for any."""
    room, refused, best = 0.0, width, None
    for _ in range(HALVINGS):
        middle = 0.5 * (room + refused)
        try:
            best, room = bevelled(middle), middle
        except _NoRoom:
            refused = middle
    if best is None:
        raise refusal
    words = f"There is room for a width of {room:.6g} only here: the bevel is that wide."
    note = Note("bevel-clamped", words, refusal.elements)
    others = (other for other in best.notes if other.code != note.code)
    return replace(best, notes=(note, *others))


def _refuse_open(mesh: Mesh, edges: Ints) -> None:
    crowded = np.isin(edges, list(mesh.edges.crowded))
    wrong = edges[mesh.edges.border[edges] | crowded]
    if len(wrong):
        words = (
            "a boundary has a face on one side only: there is nothing to cut off between two"
            if mesh.edges.border[wrong[0]]
            else "more than two faces meet at this edge"
        )
        ends = mesh.edges.ends[wrong[0]].tolist()
        raise StepError(words, where="edges", elements=(edge_element(ends),))


class _Bevelling:
    """A bevel as it comes about: fans opened one by one, then faces put in between."""

    def __init__(self, mesh: Mesh, edges: set[int], params: BevelParams, width: float) -> None:
        self.mesh, self.edges, self.params, self.asked = mesh, edges, params, width
        self.rounds = params.rounds if edges else 1
        self.openings: list[Opened] = []
        # For each point the vertex it comes of and how far it goes for a width of 1.
        self.reach: dict[int, tuple[int, Floats]] = {}
        # Where the points lie; those that keep the number of a vertex are among them.
        self.places: dict[int, Floats] = {}
        self.next = mesh.vertex_count
        self.at_corner: dict[int, list[int]] = {}
        self.on_edge: dict[tuple[int, int], int] = {}
        # The points across each bevelled edge, at each of its ends.
        self.across: dict[tuple[int, int], list[int]] = {}
        self.loops: list[list[int]] = []
        # The faces that each loop gets what it carries from: on its right and left, or at a corner.
        self.beside: list[tuple[int, int]] = []
        # How far each of its corners is on the way from the one to the other.
        self.shares: list[list[float]] = []

    def open(self, vertex: int, *, alone: bool) -> None:
        """Open the fans at a vertex that have bevelled edges, or all of them if it is cut off
        `alone`."""
        fans = fans_of(self.mesh, vertex)
        if alone and any(len(fan.edges) < 3 and not fan.open for fan in fans):
            words = "only two edges meet at this vertex: there is nothing to cut off"
            raise StepError(words, where="vertices", elements=(position(self.mesh.points[vertex]),))
        taken = False
        for fan in fans:
            if not alone and self.edges.isdisjoint(fan.edges):
                # What touches here only keeps the vertex.
                taken = True
        for fan in fans:
            if not alone and self.edges.isdisjoint(fan.edges):
                continue
            made = opened(self.mesh, fan, self.edges, self.next)
            if taken:
                made = _renumbered(made, vertex, self.next + len(made.points) - 1)
            self.next += len(made.points) - (0 if taken else 1)
            taken = True
            self.openings.append(made)
            for point, reach in zip(made.points, made.reach, strict=True):
                self.reach[point] = (vertex, reach)
            self.at_corner |= made.at_corner
            self.on_edge |= {(vertex, edge): point for edge, point in made.on_edge.items()}

    def made(self) -> Result:
        """The mesh with the openings filled."""
        width, notes = self._width()
        notes = (*notes, *self._uneven(width))
        for point, (vertex, reach) in self.reach.items():
            self.places[point] = self.mesh.points[vertex] + width * reach
        for made in self.openings:
            self._fill_corner(made)
        for edge in sorted(self.edges):
            self._fill_edge(edge)
        return self._assembled(notes)

    def _width(self) -> tuple[float, tuple[Note, ...]]:
        """The width there is room for: no side of a face shrinks to nothing."""
        mesh, room, tight = self.mesh, np.inf, -1
        following = next_in_row(mesh.starts)
        for corner in row_positions(mesh.starts, self._changed())[0].tolist():
            ahead = int(following[corner])
            low, high = int(mesh.corners[corner]), int(mesh.corners[ahead])
            way = mesh.points[high] - mesh.points[low]
            length = float(np.linalg.norm(way))
            if length == 0.0:
                continue
            ends = [
                self.reach[self.at_corner[of][which]][1] if of in self.at_corner else np.zeros(3)
                for of, which in ((corner, -1), (ahead, 0))
            ]
            shrinks = float((ends[0] - ends[1]) @ way) / length
            if shrinks > NEGLIGIBLE and length / shrinks < room:
                room, tight = length / shrinks, int(mesh.edges.of_corner[corner])
        if self.asked <= SHARE_OF_ROOM * room:
            return self.asked, ()
        width = SHARE_OF_ROOM * room
        words = f"There is room for a width of {width:.6g} only along this edge: the bevel is that wide."
        ends_there = mesh.edges.ends[tight].tolist()
        return width, (Note("bevel-clamped", words, (edge_element(ends_there),)),)

    def _uneven(self, width: float) -> tuple[Note, ...]:
        """A note of the vertices at which an edge stays that leaves bevelled ones no even width."""
        off = [made for made in self.openings if any(abs(w - 1.0) > UNEVEN for w in made.widths)]
        if not off:
            return ()
        widths = [width * abs(w) for made in off for w in made.widths]
        words = (
            f"At {count_of(len(off), 'vertex', 'vertices')} an edge stays that the bevelled ones "
            f"beside it share: they are {min(widths):.4g} to {max(widths):.4g} wide there."
        )
        places = tuple(vertex_element(made.fan.vertex) for made in off[:50])
        return (Note("bevel-uneven", words, places),)

    def _fill_corner(self, made: Opened) -> None:
        """Put points across the bevelled edges of a fan, and a face or a patch where more than two of
        its points lie round it."""
        count, vertex = len(made.points), made.fan.vertex
        through = count == 2 and all(side >= 0 for side in made.sides)
        profiles: list[Profile | None] = []
        runs: list[list[int]] = []
        for k, side in enumerate(made.sides):
            start, end = made.points[k], made.points[(k + 1) % count]
            if side < 0:
                profiles.append(None)
                runs.append([start, end])
                continue
            ridge = self.mesh.points[vertex]
            if not through:
                ridge = self._beside_on(side, vertex, start, end)
            profile = Profile(self.places[start], self.places[end], ridge)
            if through and k == 1:
                run = runs[0][::-1]
            elif start == end:
                run = [start] * (self.rounds + 1)
            else:
                shares = np.arange(1, self.rounds) / self.rounds
                inner = profile.bulged(shares, self.params.profile)
                run = [start, *self._new(inner), end]
            profiles.append(profile)
            runs.append(run)
            self.across[side, vertex] = run
        if count == 2 and not through and not made.fan.open:
            self._insert(made, runs)
        if count < 3:
            return
        face = int(self.mesh.face_of_corner[made.fan.corners[0]])
        last = int(self.mesh.face_of_corner[made.fan.corners[-1]])
        sides = [profile for profile in profiles if profile is not None]
        if len(sides) == count and self.rounds > 1:
            patch = CornerPatch(tuple(sides), self.params.profile)
            loops = self._patch(patch, runs)
        else:
            loops = [[point for run in runs for point in run[:-1]]]
        self.loops += loops
        self.beside += [(face, last)] * len(loops)
        self.shares += [[0.5] * len(loop) for loop in loops]

    def _beside_on(self, edge: int, vertex: int, start: int, end: int) -> Floats:
        """The place on the line of an edge that lies between two points on its sides."""
        ends = self.mesh.edges.ends[edge].tolist()
        here = self.mesh.points[vertex]
        way = self.mesh.points[ends[1] if ends[0] == vertex else ends[0]] - here
        middle = 0.5 * (self.places[start] + self.places[end]) - here
        return np.asarray(here + float(middle @ way) / float(way @ way) * way)

    def _insert(self, made: Opened, runs: list[list[int]]) -> None:
        """A bevel that ends at an edge: the face across its end takes the points of its profile."""
        across = next(run for run, side in zip(runs, made.sides, strict=True) if side >= 0)
        for corner, points in made.at_corner.items():
            if len(points) == 2:
                self.at_corner[corner] = across if points[0] == across[0] else across[::-1]

    def _new(self, places: Floats) -> list[int]:
        numbers = list(range(self.next, self.next + len(places)))
        self.next += len(places)
        self.places |= dict(zip(numbers, places, strict=True))
        return numbers

    def _patch(self, patch: CornerPatch, runs: list[list[int]]) -> list[list[int]]:
        """The quads where only bevelled edges meet: a grid at each corner, and for an odd number of
        rounds strips between these and a face in the middle."""
        count, rounds = len(runs), self.rounds
        half = rounds // 2
        shares = [2 * j / rounds for j in range(half + 1)]
        grid: list[dict[tuple[int, int], int]] = [{} for _ in range(count)]
        for i in range(count):
            for j in range(half + 1):
                grid[i][j, 0] = runs[i][j]
                grid[i][0, j] = runs[i - 1][rounds - j]
        # Of an even number the halves and the middle are shared: each is the first patch's.
        for i in range(count):
            after = grid[(i + 1) % count]
            if rounds % 2 == 0 and i > 0:
                grid[i] |= {(b, half): grid[i - 1][half, b] for b in range(1, half + 1)}
            if rounds % 2 == 0 and i == count - 1:
                grid[i] |= {(half, b): after[b, half] for b in range(1, half + 1)}
            steps = range(1, half + 1)
            free = [(a, b) for a in steps for b in steps if (a, b) not in grid[i]]
            at = np.array([[shares[a], shares[b]] for a, b in free]).reshape(-1, 2)
            numbers = self._new(patch.places(i, at[:, 0], at[:, 1]))
            grid[i] |= dict(zip(free, numbers, strict=True))
        loops = [
            [grid[i][a, b], grid[i][a + 1, b], grid[i][a + 1, b + 1], grid[i][a, b + 1]]
            for i in range(count)
            for a in range(half)
            for b in range(half)
        ]
        if rounds % 2:
            for i in range(count):
                after = grid[(i + 1) % count]
                loops += [
                    [grid[i][half, b], after[b, half], after[b + 1, half], grid[i][half, b + 1]]
                    for b in range(half)
                ]
            loops.append([grid[i][half, half] for i in range(count)])
        return loops

    def _fill_edge(self, edge: int) -> None:
        """The strip along a bevelled edge: a quad a round, a triangle where it ends in a vertex."""
        a, b = self.mesh.edges.ends[edge].tolist()
        here, there = self.across[edge, a], self.across[edge, b][::-1]
        left, right = self._faces_beside(edge, a)
        for j in range(self.rounds):
            low, high = j / self.rounds, (j + 1) / self.rounds
            # Where a strip ends in one point it is there but once.
            loop = {here[j]: low, there[j]: low, there[j + 1]: high, here[j + 1]: high}
            if len(loop) > 2:
                self.loops.append(list(loop))
                self.shares.append(list(loop.values()))
                self.beside.append((right, left))

    def _faces_beside(self, edge: int, start: int) -> tuple[int, int]:
        """The faces on the left and right of an edge, seen along it from one of its ends."""
        one, other = self.mesh.edges.faces_at(edge)
        loop = self.mesh.face(one).tolist()
        a, b = self.mesh.edges.ends[edge].tolist()
        goes = loop[(loop.index(start) + 1) % len(loop)] == (b if a == start else a)
        return (one, other) if goes else (other, one)

    def _changed(self) -> Ints:
        """The faces (n,) that lose a vertex, ascending."""
        corners = np.array(sorted(self.at_corner), dtype=np.int64)
        return np.unique(self.mesh.face_of_corner[corners])

    def _assembled(self, notes: tuple[Note, ...]) -> Result:
        mesh = self.mesh
        changed = self._changed()
        flagged = np.zeros(mesh.face_count, dtype=bool)
        flagged[changed] = True
        rows: list[list[int]] = []
        source: list[list[int]] = []
        for face in changed.tolist():
            row, of = [], []
            for corner in range(int(mesh.starts[face]), int(mesh.starts[face + 1])):
                points = self.at_corner.get(corner, [int(mesh.corners[corner])])
                row += points
                of += [corner] * len(points)
            rows.append(row)
            source.append(of)
        sizes = mesh.sizes.astype(np.int64)
        sizes[changed] = [len(row) for row in rows]
        starts = starts_of(np.concatenate([sizes, [len(loop) for loop in self.loops]]).astype(int))
        corners = np.empty(starts[-1], dtype=np.int64)
        corners_from = np.full(starts[-1], -1, dtype=np.int64)
        stays = np.repeat(~flagged, sizes)
        corners[: len(stays)][stays] = mesh.corners[np.repeat(~flagged, mesh.sizes)]
        corners_from[: len(stays)][stays] = np.flatnonzero(np.repeat(~flagged, mesh.sizes))
        for face, row, of in zip(changed.tolist(), rows, source, strict=True):
            corners[starts[face] : starts[face + 1]] = row
            corners_from[starts[face] : starts[face + 1]] = of
        corners[starts[mesh.face_count] :] = [point for loop in self.loops for point in loop]
        places = np.concatenate([mesh.points, np.empty((self.next - mesh.vertex_count, 3))])
        places[list(self.places)] = list(self.places.values())
        beside = np.array(self.beside, dtype=np.int64).reshape(-1, 2)
        uv = None
        if mesh.uv is not None:
            uv = self._texture(corners, starts, corners_from, changed, places, beside)
        made = mesh.rebuilt(
            places,
            starts,
            corners,
            edge_data=self._edge_data(),
            further_from=beside.min(axis=1),
            uv=uv,
        )
        same = mesh.patch[beside[:, 0]] == mesh.patch[beside[:, 1]]
        made = replace(
            made,
            patch=np.concatenate([mesh.patch, np.where(same, mesh.patch[beside[:, 0]], -1)]),
        )
        kept = np.arange(mesh.face_count)
        kept[changed] = -1
        fresh = np.arange(mesh.face_count, made.face_count)
        origin = Origin(
            np.concatenate([np.arange(mesh.face_count), np.full(len(fresh), -1)]),
            np.concatenate(
                [np.arange(mesh.vertex_count), np.full(len(places) - mesh.vertex_count, -1)]
            ),
            kept,
        )
        self._refuse_folds(made, beside)
        self._refuse_flat(made, changed, fresh)
        around = np.unique(made.edges.of_corner[made.starts[mesh.face_count] :])
        picked = Picked(faces=fresh, edges=made.edges.ends[around].astype(np.int64))
        result = Result(made, origin, picked, notes)
        self._refuse("fold over", made, folded_anew(mesh, result))
        self._refuse("cross itself", made, crossed_anew(mesh, result))
        faces = np.concatenate([changed, fresh])
        touching = _touching(made, faces, weld=weld_of(mesh))
        touching[: len(changed)] &= ~_touching(mesh, changed, weld=weld_of(mesh))
        self._refuse("touch itself", made, faces[touching])
        return result

    def _refuse(self, what: str, made: Mesh, faces: Ints) -> None:
        """Raise _NoRoom, with their places, for faces (n,) that would be no sound ones."""
        if len(faces):
            places = [made.points[made.face(f)].mean(axis=0) for f in faces[:20].tolist()]
            words = f"at {count_of(len(faces), 'place')} a face of the bevel would {what}"
            raise _NoRoom(words, where="width", elements=tuple(map(position, places)))

    def _texture(
        self,
        corners: Ints,
        starts: Ints,
        corners_from: Ints,
        changed: Ints,
        places: Floats,
        beside: Ints,
    ) -> Floats:
        """Texture places follow the move within each face by the linear map that fits its corners
        best; on what lies between two faces they go from the one's to the other's if these meet at
        their edge, else they are the first one's."""
        mesh = self.mesh
        assert mesh.uv is not None
        texture = mesh.uv
        uv = np.full((len(corners), 2), np.nan)
        old = corners_from >= 0
        uv[old] = mesh.uv[corners_from[old]]
        maps: dict[int, tuple[Floats, Floats, Floats]] = {}

        def mapped(face: int, at: Floats) -> Floats:
            if face not in maps:
                rows = slice(int(mesh.starts[face]), int(mesh.starts[face + 1]))
                of, value = mesh.points[mesh.corners[rows]], texture[rows]
                maps[face] = of.mean(axis=0), value.mean(axis=0), texture_gradient(of, value)
            middle, mean, gradient = maps[face]
            return np.asarray(mean + (at - middle) @ gradient)

        for face in changed.tolist():
            for k in range(int(starts[face]), int(starts[face + 1])):
                moved = places[corners[k]] - mesh.points[mesh.corners[corners_from[k]]]
                if moved.any():
                    mapped(face, places[corners[k]])
                    uv[k] += moved @ maps[face][2]
        for n, (one, other) in enumerate(beside.tolist()):
            rows = slice(int(starts[mesh.face_count + n]), int(starts[mesh.face_count + n + 1]))
            at = places[corners[rows]]
            share = np.array(self.shares[n])[:, None] * self._meet(one, other)
            uv[rows] = (1.0 - share) * mapped(one, at) + share * mapped(other, at)
        return uv

    def _meet(self, one: int, other: int) -> bool:
        """Whether two faces have the same texture places at all vertices that both have."""
        mesh = self.mesh
        found: dict[int, list[float]] = {}
        for corner in row_positions(mesh.starts, np.array([one, other]))[0].tolist():
            at = [] if mesh.uv is None else mesh.uv[corner].tolist()
            if found.setdefault(int(mesh.corners[corner]), at) != at:
                return False
        return True

    def _edge_data(self) -> EdgeData:
        """What the edges carry: bevelled ones go, the others are where their ends are now."""
        mesh = self.mesh
        numbers = np.flatnonzero(mesh.edges.joining(mesh.hard))
        numbers = numbers[~np.isin(numbers, list(self.edges))]
        pairs = [
            [self.on_edge.get((v, edge), v) for v in mesh.edges.ends[edge].tolist()]
            for edge in numbers.tolist()
        ]
        data = mesh.edge_data
        rows = data.rows_of(mesh.edges.ends[numbers], mesh.vertex_count)
        return data.taken(rows, np.array(pairs, dtype=np.int64).reshape(-1, 2))

    def _refuse_flat(self, made: Mesh, changed: Ints, fresh: Ints) -> None:
        """Raise _NoRoom where a face would be left without area: the width is too small to be told
        from none, or what is left beside it."""
        weld = weld_of(self.mesh)
        faces = np.concatenate([changed, fresh])
        flat = flat_among(made, faces, weld=weld)
        flat[: len(changed)] &= ~flat_among(self.mesh, changed, weld=weld)
        self._refuse("have no area", made, faces[flat])

    def _refuse_folds(self, made: Mesh, beside: Ints) -> None:
        """Raise _NoRoom where a new face looks against both faces that it lies between."""
        first = self.mesh.face_count
        normals = made.face_normals(np.arange(first, made.face_count))
        near = made.face_normals(beside[:, 0]), made.face_normals(beside[:, 1])
        against = [np.einsum("ij,ij->i", normals, other) < 0 for other in near]
        self._refuse("fold over", made, first + np.flatnonzero(against[0] & against[1]))


def _touching(mesh: Mesh, faces: Ints, *, weld: float) -> Bools:
    """Which of some faces (n,) have a corner within the tolerance of another, or of a side."""
    at, starts = row_positions(mesh.starts, faces)
    wrong, thin = np.zeros((2, len(faces)), dtype=bool)
    if len(faces):
        nothing = mesh.points[:0]
        unsound_rows(nothing, mesh.points, mesh.corners[at], starts, weld, wrong, thin)
    return wrong


def _renumbered(made: Opened, old: int, new: int) -> Opened:
    """An opening one of whose points has another number."""

    def of(point: int) -> int:
        return new if point == old else point

    made.points = [of(p) for p in made.points]
    made.at_corner = {corner: [of(p) for p in points] for corner, points in made.at_corner.items()}
    made.on_edge = {edge: of(p) for edge, p in made.on_edge.items()}
    return made


def _title(params: BevelParams) -> str:
    what = (
        count_of(len(params.edges), "edge")
        if params.edges is not None
        else count_of(len(params.vertices or ()), "vertex", "vertices")
    )
    return f"{what} bevelled by {length_words(params.width)}"


TOOL = Reshape(
    params=BevelParams,
    title=_title,
    examples=(
        Example("cube", {"edges": [[1, 8]], "width": 0.1, "rounds": 3}),
        Example("plate", {"vertices": [5], "width": 0.1}),
    ),
    moves=edges_of_moved_vertices,
    apply=apply,
)
