"""Faces turned into quads: odd ones paired, edges split, polygons cut, all as one trace."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from cutcore.errors import ImprintError
from cutcore.geometry.arrays import Bools, Floats, Ints, cross, owner_of, row_positions
from cutcore.geometry.chart import chart_of
from cutcore.imprint import imprinted
from cutcore.imprint.weights import interpolate_inside
from cutcore.kernels import crossed_rows
from cutcore.mesh.joined_faces import Joined, join_over
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.result import Origin, Picked, Result
from cutcore.mesh.submesh import then
from cutcore.notes import Note, position
from cutcore.progress import come_to, one_by_one
from cutcore.quads.joining import edges_to_join
from cutcore.quads.parity import Ground, cost_of_edges, edges_to_split
from cutcore.quads.polygon import Quads, ways_of
from cutcore.trace.known_faces import KnownFaces
from cutcore.trace.trace import Trace, anchor_place
from cutcore.words import count_of, share_words

# An edge is not split into pieces shorter than so many weld tolerances, and nothing is drawn nearer
# to a corner.
CLEAR = 8.0

# A corner is straight if the sine of its turn is no more than this: its quad would be folded.
STRAIGHT = 0.02

# Where edges are split: a share.
HALF = 0.5

# What stands in the way is left out, and the rest is tried again, so often.
MOST_TRIES = 24


@dataclass(frozen=True, eq=False)
class Wanted:
    """What is to become quads.

    faces     (F,) the faces
    allowed   (F,) those that may be touched on the way, or None for all
    kept      (E,) edges that are not taken away
    degrees   how far odd faces that are joined may lean against each other; 0 for in one plane
    chords    corners of one face that have to be joined, as vertex pairs
    way       which of the ways to cut a polygon is taken, where there are so many; the best is 0
    """

    faces: Bools
    allowed: Bools | None = None
    kept: Bools | None = None
    degrees: float = 0.0
    chords: Sequence[tuple[int, int]] = ()
    way: int = 0


def mend(mesh: Mesh, wanted: Wanted, *, weld: float) -> Result:
    """The mesh with faces turned into quads, the surface where it was; what was added is picked.

    Vertices keep their numbers unless edges are taken away. A note tells which faces stay, and
    why."""
    come_to("turning faces into quads")
    kept = np.zeros(len(mesh.edges), dtype=bool) if wanted.kept is None else wanted.kept
    odd = wanted.faces & (mesh.sizes % 2 == 1)
    if wanted.allowed is not None:
        odd &= wanted.allowed
    edges = (
        edges_to_join(mesh, odd, kept, degrees=wanted.degrees, weld=weld)
        if not wanted.chords
        else np.zeros(0, dtype=np.int64)
    )
    joined = join_over(mesh, edges, straight_within=None)
    ground = joined.mesh
    faces = _of_parents(wanted.faces, joined.origin)
    allowed = (
        np.ones(ground.face_count, dtype=bool)
        if wanted.allowed is None
        else _of_parents(wanted.allowed, joined.origin)
    )
    mending = _Mending(ground, faces & allowed, allowed.copy(), weld, wanted)
    cut = mending.done()
    notes = (*_leaning(joined, weld), *mending.notes(limited=wanted.allowed is not None))
    if cut is None:
        return Result(ground, joined.origin, Picked(faces=joined.faces), notes)
    came = then(joined.origin, cut.origin) if ground is not mesh else cut.origin
    return Result(cut.mesh, came, Picked(edges=cut.picked.edges), notes)


def _leaning(joined: Joined, weld: float) -> tuple[Note, ...]:
    """How far the surface may have moved where faces were joined that leaned against each other."""
    mesh = joined.mesh
    away = []
    for face in joined.faces.tolist():
        places = mesh.points[mesh.face(face)]
        away.append(float(np.abs((places - places.mean(axis=0)) @ chart_of(places).normal).max()))
    moved = [face for face, far in zip(joined.faces.tolist(), away, strict=True) if far > weld]
    if not moved:
        return ()
    words = (
        f"{count_of(len(moved), 'edge')} between faces that lean against each other went: the "
        f"surface moves there by up to {share_words(2 * max(away) / mesh.diagonal)} of the part."
    )
    middles = (position(mesh.points[mesh.face(face)].mean(axis=0)) for face in moved[:50])
    return (Note("surface-moved", words, tuple(middles)),)


def _crossed(mesh: Mesh, faces: Ints) -> Bools:
    """Which of some faces (n,) cross themselves, seen from in front."""
    at, starts = row_positions(mesh.starts, faces)
    if len(at) == 0:
        return np.zeros(0, dtype=bool)
    found: Bools = crossed_rows(mesh.points[mesh.corners[at]], starts, mesh.face_normals(faces))
    return found


def _of_parents(flags: Bools, origin: Origin) -> Bools:
    found: Bools = flags[np.maximum(origin.face, 0)] & (origin.face >= 0)
    return found


@dataclass
class _Mending:
    """One mesh on its way to quads. `left` are faces that can't be mended, by why."""

    mesh: Mesh
    faces: Bools
    allowed: Bools
    weld: float
    wanted: Wanted
    left: dict[int, str] = field(default_factory=dict)
    refused: dict[int, int] = field(default_factory=dict)
    ways: dict[tuple[int, tuple[int, ...]], list[Quads]] = field(default_factory=dict)

    def done(self) -> Result | None:
        """The mesh with all cut that can be; None if nothing is to be done. Whatever stands in the
        way is left as it is and told, and the rest done without it."""
        for _ in range(MOST_TRIES):
            split = self._splits()
            stands, trace = self._traced(split)
            if not stands:
                if trace is None:
                    return None
                try:
                    made = imprinted(self.mesh, trace, weld=self.weld)
                    stands = self._folded(made)
                    if not stands:
                        return made
                except ImprintError as refusal:
                    stands = [int(e.value) for e in refusal.elements if e.kind == "face"]  # type: ignore[arg-type]
                    if not stands:
                        break
                # Another way may do.
                for face in stands:
                    self.refused[face] = self.refused.get(face, self.wanted.way) + 1
                stands = [f for f in stands if self.refused[f] >= 3 + self.wanted.way]
            for face in stands:
                self._leave(face, "too narrow or too bent")
        for face in np.flatnonzero(self.faces & (self.mesh.sizes != 4)).tolist():
            self._leave(face, "too narrow or too bent")
        return None

    def _folded(self, made: Result) -> list[int]:
        """The faces whose quads cross themselves, as they are seen from in front, though they did
        not themselves."""
        changed = np.ones(made.mesh.face_count, dtype=bool)
        changed[made.origin.kept[made.origin.kept >= 0]] = False
        faces = np.flatnonzero(changed)
        of = np.unique(made.origin.face[faces[_crossed(made.mesh, faces)]])
        folded: list[int] = of[~_crossed(self.mesh, of)].tolist()
        return folded

    def _leave(self, face: int, why: str) -> None:
        self.left[face] = why
        self.faces[face] = self.allowed[face] = False

    def notes(self, *, limited: bool) -> tuple[Note, ...]:
        """Which faces stay, and why."""
        words = {
            "no way": "the limit leaves them no way to another odd face"
            if limited
            else "no other odd face and no boundary can be reached from them",
            "too narrow or too bent": "they are too narrow or too bent",
        }
        found = []
        for why, said in words.items():
            faces = [f for f, reason in self.left.items() if reason == why]
            if faces:
                places = [position(self.mesh.points[self.mesh.face(f)].mean(axis=0)) for f in faces]
                stay = "stays as it is" if len(faces) == 1 else "stay as they are"
                text = f"{count_of(len(faces), 'face')} {stay}, no quads: {said}."
                found.append(Note("quads-left", text, tuple(places[:50])))
        return tuple(found)

    def _splits(self) -> Ints:
        """The edges to split, ascending. Odd faces that ways end at are mended, too."""
        mesh = self.mesh
        while True:
            open_ = self._open()
            forced = self._forced(open_)
            sizes = mesh.sizes + _split_sides(mesh, forced)
            asked = self.faces | ((sizes > mesh.sizes) & self.allowed)
            odd = np.flatnonzero(asked & (sizes % 2 == 1))
            if len(odd) == 0:
                return np.flatnonzero(forced)
            even = sizes % 2 == 0
            ground = Ground(
                mesh,
                self.allowed & (even | asked),
                self.allowed & ~even & ~asked,
                open_ & ~forced,
                self._cost,
            )
            edges, alone = edges_to_split(ground, odd)
            for face in alone.tolist():
                self._leave(face, "no way")
            split = forced.copy()
            split[edges] = True
            sizes = mesh.sizes + _split_sides(mesh, split)
            fresh = (sizes > mesh.sizes) & (sizes % 2 == 1) & ~asked & self.allowed
            if len(alone) == 0 and not fresh.any():
                return np.flatnonzero(split)
            self.faces |= fresh

    @property
    def _cost(self) -> Floats:
        return self.mesh.held("_cost_of_edges", cost_of_edges)

    def _open(self) -> Bools:
        """Which edges may be split: all their faces may be touched, and they are long enough."""
        edges = self.mesh.edges
        beside = self.allowed[np.maximum(edges.faces, 0)] | (edges.faces < 0)
        ends = self.mesh.points[edges.ends]
        found: Bools = beside.all(axis=1) & (
            np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1) > 2 * CLEAR * self.weld
        )
        found[list(edges.crowded)] = False
        return found

    def _forced(self, open_: Bools) -> Bools:
        """Edges that are split because a face has three corners only: with one of its sides split
        it would be a quad with a straight corner; with all of them it falls into three."""
        mesh = self.mesh
        forced = np.zeros(len(mesh.edges), dtype=bool)
        small = np.flatnonzero(self.faces & (mesh.sizes <= 4))
        at, starts = row_positions(mesh.starts, small)
        straight = _straight_corners(mesh, at, starts)
        bent = np.diff(starts) - np.add.reduceat(straight, starts[:-1]) if len(small) else small
        for k in np.flatnonzero(bent == 3).tolist():
            rows = slice(starts[k], starts[k + 1])
            edges, flat = mesh.edges.of_corner[at[rows]], straight[rows]
            # The two edges at a straight corner are one side that is split already.
            whole = edges[~(flat | np.roll(flat, -1))]
            if open_[whole].all():
                forced[whole] = True
        return forced

    def _traced(self, split: Ints) -> tuple[list[int], Trace | None]:
        """What is drawn where edges are split; or the faces for which there is no way."""
        mesh = self.mesh
        on_edge = np.zeros(len(mesh.edges), dtype=bool)
        on_edge[split] = True
        sizes = mesh.sizes + _split_sides(mesh, on_edge)
        touched = np.flatnonzero((self.faces | (sizes > mesh.sizes)) & self.allowed & (sizes > 4))
        draft = _Draft(mesh)
        stands = []
        for face in one_by_one("cutting faces into quads", touched.tolist()):
            draft.face(face, on_edge)
            chords = draft.chords(self.wanted.chords)
            ways = self._ways(face, draft, chords) if len(draft.loop) % 2 == 0 else []
            if not ways:
                stands.append(face)
                continue
            chosen = self.refused.get(face, self.wanted.way)
            draft.add(ways[min(chosen, len(ways) - 1)])
        if stands or not (len(split) or draft.any):
            return stands, None
        return stands, draft.trace(split)

    def _ways(self, face: int, draft: _Draft, chords: list[tuple[int, int]]) -> list[Quads]:
        key = (face, tuple(draft.loop))
        if key not in self.ways:
            self.ways[key] = ways_of(
                draft.flat, CLEAR * self.weld, chords, several=self.wanted.way > 0
            )
        return self.ways[key]


def _split_sides(mesh: Mesh, split: Bools) -> Ints:
    """How many sides of each face (F,) are split."""
    return np.add.reduceat(split[mesh.edges.of_corner], mesh.starts[:-1], dtype=np.int64)


def _straight_corners(mesh: Mesh, at: Ints, starts: Ints) -> Bools:
    """Which corners (c,) of some faces, in ragged rows, turn by all but nothing."""
    places = mesh.points[mesh.corners[at]]
    owner = owner_of(starts)
    sizes = np.diff(starts)[owner]
    first = starts[:-1][owner]
    here = np.arange(len(at)) - first
    back, ahead = places[first + (here - 1) % sizes], places[first + (here + 1) % sizes]
    one, other = places - back, ahead - places
    turn = np.linalg.norm(cross(one, other), axis=1)
    size = np.linalg.norm(one, axis=1) * np.linalg.norm(other, axis=1)
    return (turn <= STRAIGHT * size) & (np.einsum("ij,ij->i", one, other) > 0)


class _Draft:
    """What is drawn, face by face."""

    def __init__(self, mesh: Mesh) -> None:
        self.mesh, self.drawn = mesh, KnownFaces(mesh)
        self.any = False

    def face(self, face: int, split: Bools) -> None:
        """Go on to a face: its loop of vertices and, as -1 - edge, of split edges, and where they
        lie in its own plane."""
        mesh = self.mesh
        row = slice(mesh.starts[face], mesh.starts[face + 1])
        edges = mesh.edges.of_corner[row]
        self.now = face
        self.loop: list[int] = []
        for vertex, edge, has in zip(
            mesh.corners[row].tolist(), edges.tolist(), split[edges].tolist(), strict=True
        ):
            self.loop.append(vertex)
            if has:
                self.loop.append(-1 - edge)
        self.places = np.array(
            [mesh.points[v] if v >= 0 else anchor_place(mesh, -1 - v, HALF) for v in self.loop]
        )
        self.chart = chart_of(self.places)
        self.flat = self.chart.flatten(self.places)

    def chords(self, pairs: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
        """Vertex pairs as places in the loop, of those that are in it."""
        return [
            (self.loop.index(a), self.loop.index(b))
            for a, b in pairs
            if a in self.loop and b in self.loop
        ]

    def add(self, way: Quads) -> None:
        """Draw one way to cut the face."""
        drawn = self.drawn
        anchors = [drawn.vertex(v) if v >= 0 else drawn.on_edge(-1 - v, HALF) for v in self.loop]
        if len(way.inner):
            flat, chart = way.inner, self.chart
            above = chart.origin + flat[:, :1] * chart.right + flat[:, 1:] * chart.up
            places = interpolate_inside(self.places, self.places, above)
            anchors += [drawn.in_face(self.now, place) for place in places]
        drawn.put(self.now, [[anchors[node] for node in quad] for quad in way.quads.tolist()])
        self.any = True

    def trace(self, split: Ints) -> Trace:
        """All that was drawn; every split edge gets its vertex, whether a line ends there or
        not."""
        for edge in split.tolist():
            self.drawn.on_edge(edge, HALF)
        return self.drawn.trace()
