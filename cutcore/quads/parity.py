"""Which edges have to be split so that faces get an even number of sides.

Splitting an edge changes the parity of the faces on both sides, so the edges to split are a T-join
in the graph whose nodes are faces and whose links are the edges they share: odd faces are paired
along the cheapest ways, and an edge on two ways is not split (J. Edmonds and E. L. Johnson,
Matching, Euler tours and the Chinese postman, Mathematical Programming 5, 1973). The border of the
part takes any number of ways, and so does an odd face that need not become even: by the way that
ends there it does."""

from __future__ import annotations

from dataclasses import dataclass

import networkx
import numpy as np

from cutcore.geometry.arrays import Bools, Floats, Ints
from cutcore.geometry.components import components
from cutcore.kernels import BORDER, cheapest_ways
from cutcore.mesh.mesh import Mesh

# Every odd face looks for so many others.
NEAREST = 6

# Up to so many odd faces that hang together are matched for the least cost; more than that pair by
# pair, the cheapest first.
MATCHED = 48

# So many edges are looked at for one odd face: it would be far to the next.
FARTHEST = 60_000

# A way costs more over a hard edge or the border of a patch.
OVER_A_LINE = 1.0

# Leaving a face odd costs more than any way.
UNPAIRED = 1e6


@dataclass(frozen=True, eq=False)
class Ground:
    """Where edges may be split.

    through (F,) faces that ways lead through
    ends    (F,) faces at which a way may end, beside those whose parity is asked for
    open    (E,) edges that may be split
    cost    (E,) what splitting them costs
    """

    mesh: Mesh
    through: Bools
    ends: Bools
    open: Bools
    cost: Floats


def cost_of_edges(mesh: Mesh) -> Floats:
    """What splitting each edge (E,) costs: one for those as long as the longest beside them."""
    ends = mesh.edges.ends
    length = np.linalg.norm(mesh.points[ends[:, 1]] - mesh.points[ends[:, 0]], axis=1)
    longest_in = np.maximum.reduceat(length[mesh.edges.of_corner], mesh.starts[:-1])
    faces = mesh.edges.faces
    beside = np.maximum(longest_in[faces[:, 0]], longest_in[np.maximum(faces[:, 1], faces[:, 0])])
    cost = 2.0 - length / np.maximum(beside, length)
    cost[mesh.edges.joining(mesh.hard)] += OVER_A_LINE
    inner = faces[:, 1] >= 0
    cost[inner] += OVER_A_LINE * (mesh.patch[faces[inner, 0]] != mesh.patch[faces[inner, 1]])
    return cost


def edges_to_split(ground: Ground, odd: Ints) -> tuple[Ints, Ints]:
    """The edges to split so that odd faces (n,) become even and no other odd; and which of them
    stay odd because no way leads to another. Both ascending."""
    split: set[int] = set()
    left, before = odd, len(odd) + 1
    # Those that are left look for the nearest among themselves, and only at last for any.
    while 1 < len(left) < before:
        left, before = _paired(ground, left, NEAREST, split), len(left)
    if len(left):
        left = _paired(ground, left, len(odd) + 1, split)
    return np.array(sorted(split), dtype=np.int64), left


def _paired(ground: Ground, odd: Ints, nearest: int, split: set[int]) -> Ints:
    """Pair odd faces, and put the edges on their ways into `split` or take them out again; those
    that are left."""
    mesh = ground.mesh
    start, goal, costs, rows, edges = cheapest_ways(
        mesh.starts,
        mesh.edges.of_corner,
        mesh.edges.faces,
        ground.through,
        ground.ends,
        ground.open,
        ground.cost,
        odd,
        nearest,
        FARTHEST,
    )
    number = {face: k for k, face in enumerate(odd.tolist())}
    links: dict[tuple[int, int], tuple[float, list[int]]] = {}
    for k, (face, other) in enumerate(zip(start.tolist(), goal.tolist(), strict=True)):
        pair = (face, other) if other == BORDER else (min(face, other), max(face, other))
        if pair not in links or costs[k] < links[pair][0]:
            links[pair] = (float(costs[k]), edges[rows[k] : rows[k + 1]].tolist())
    inner = np.array([[number[a], number[b]] for a, b in links if b != BORDER], dtype=np.int64)
    group = components(inner.reshape(-1, 2), len(number))[1]
    members: dict[int, list[tuple[int, int]]] = {}
    for pair in links:
        members.setdefault(int(group[number[pair[0]]]), []).append(pair)
    paired: set[int] = set()
    for label in sorted(members):
        asked = {pair: links[pair][0] for pair in members[label]}
        size = int((group == label).sum())
        for pair in _matched(asked) if size <= MATCHED else _greedily(asked):
            split.symmetric_difference_update(links[pair][1])
            paired.update(pair)
    return np.array(sorted(set(number) - paired), dtype=np.int64)


def _matched(costs: dict[tuple[int, int], float]) -> list[tuple[int, int]]:
    """The pairs that cost least together. Every face has a double that stands for the border: the
    face is joined to it for the cost of the way there, and doubles among themselves for nothing, so
    that all can be matched."""
    graph = networkx.Graph()
    for (a, b), cost in costs.items():
        if b == BORDER:
            graph.add_edge((a, 0), (a, 1), weight=cost)
        else:
            graph.add_edge((a, 0), (b, 0), weight=cost)
            graph.add_edge((a, 1), (b, 1), weight=0.0)
    for a in {face for pair in costs for face in pair} - {BORDER}:
        if not graph.has_edge((a, 0), (a, 1)):
            graph.add_edge((a, 0), (a, 1), weight=UNPAIRED)
    found = []
    for (a, doubled), (b, other) in networkx.min_weight_matching(graph):
        if a != b and not doubled:
            found.append((min(a, b), max(a, b)))
        elif a == b and doubled != other and (a, BORDER) in costs:
            found.append((a, BORDER))
    return sorted(found)


def _greedily(costs: dict[tuple[int, int], float]) -> list[tuple[int, int]]:
    """Pairs of which none shares a face with a cheaper one."""
    taken: set[int] = set()
    found = []
    for pair in sorted(costs, key=lambda pair: (costs[pair], pair)):
        if taken.isdisjoint(pair):
            found.append(pair)
            taken.update(face for face in pair if face != BORDER)
    return found
