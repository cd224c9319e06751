"""Random steps of every tool and every reshape, aimed at what a mesh has: most can be carried out,
some are refused."""

from __future__ import annotations

import json
import random
from collections.abc import Callable
from typing import Any

import numpy as np

from cutcore import CutError, Mesh, Result, apply_step, parse_step
from cutcore.steps.registry import TOOLS as TOOLS_OF_STEPS


class Chance:
    """A mesh, and a source of chance that everything about one step is drawn from."""

    def __init__(self, mesh: Mesh, source: random.Random) -> None:
        self.mesh, self.source = mesh, source
        self.low, self.high = mesh.box
        self.size = float(mesh.diagonal) or 1.0

    def face(self) -> int:
        return self.source.randrange(self.mesh.face_count)

    def faces(self, most: int = 4) -> list[int]:
        """A face and some that are next to it, or those round a vertex."""
        found = [self.face()]
        if self.source.random() < 0.2:
            vertex = int(self.source.choice(self.mesh.face(found[0]).tolist()))
            round_it = self.mesh.edges.faces_at_vertex(vertex).tolist()
            return sorted(self.source.sample(round_it, self.source.randint(1, len(round_it))))
        for _ in range(self.source.randrange(most)):
            edges = self.mesh.edges.of_corner[
                self.mesh.starts[found[-1]] : self.mesh.starts[found[-1] + 1]
            ]
            beside = self.mesh.edges.faces_at(int(self.source.choice(edges.tolist())))
            found.append(self.source.choice(beside))
        return sorted(set(found))

    def edge(self) -> list[int]:
        return [int(v) for v in self.mesh.edges.ends[self.source.randrange(len(self.mesh.edges))]]

    def share(self) -> float:
        return self.source.choice([0.5, 0.25, 0.1, 1 / 3, self.source.random()])

    def place(self) -> list[float]:
        """Anywhere in the box of the mesh."""
        return [
            self.source.uniform(float(a), float(b))
            for a, b in zip(self.low, self.high, strict=True)
        ]

    def direction(self) -> list[float]:
        return self.source.choice(
            [[1, 0, 0], [0, 1, 0], [0, 0, 1], [self.source.gauss(0, 1) for _ in range(3)]]
        )

    def length(self, share: float = 0.1) -> float:
        return self.size * share * self.source.uniform(0.1, 1.0)

    def face_corner(self) -> int:
        return int(self.source.choice(self.mesh.corners.tolist()))

    def follow(self) -> float:
        return self.source.choice([0.0, 0.0, 0.0, 0.5, 1.0])

    def anchor(self, face: int) -> dict[str, Any]:
        """A place on a face: a corner, somewhere on a side, or the middle."""
        corners = self.mesh.face(face).tolist()
        k = self.source.randrange(len(corners))
        match self.source.randrange(3):
            case 0:
                return {"vertex": corners[k]}
            case 1:
                return {"edge": [corners[k], corners[(k + 1) % len(corners)]], "t": self.share()}
        inside = self.mesh.triangles.of_face(face)
        triangle = (
            inside[self.source.randrange(len(inside))] if len(inside) else self.mesh.face(face)[:3]
        )
        weights = np.array([self.source.uniform(0.1, 1.0) for _ in range(3)])
        return {"face": face, "at": (weights / weights.sum() @ self.mesh.points[triangle]).tolist()}


def _knife(chance: Chance) -> dict[str, Any]:
    faces = chance.faces(5)
    points = [chance.anchor(face) for face in ([faces[0]] * 2 if len(faces) == 1 else faces)]
    ends = chance.source.choice(["trim", "extend", "join"])
    return {
        "tool": "knife",
        "lines": [{"points": points, "closed": chance.source.random() < 0.2}],
        "open_ends": ends,
        "follow": chance.follow(),
    }


def _loop(chance: Chance) -> dict[str, Any]:
    places = sorted(chance.share() for _ in range(chance.source.randrange(1, 4)))
    step: dict[str, Any] = {"tool": "loop", "edge": chance.edge(), "at": places}
    step["follow"] = chance.follow()
    if chance.source.random() < 0.15:
        step |= {"extra_points": chance.source.randrange(1, 4)}
    return step


def _slice(chance: Chance) -> dict[str, Any]:
    then = chance.source.choice(["keep", "keep", "keep", "discard", "part", "halve"])
    step: dict[str, Any] = {
        "tool": "slice",
        "plane": {"point": chance.place(), "normal": chance.direction()},
        "then": then,
        "follow": chance.follow(),
    }
    if then != "keep":
        step["cap"] = chance.source.random() < 0.5
    if then == "part":
        step["gap"] = [chance.length() for _ in range(3)]
    return step


def _outline(chance: Chance) -> dict[str, Any]:
    axis, radius = chance.source.randrange(3), chance.length(0.3)
    turn = np.sort(
        [chance.source.uniform(0, 2 * np.pi) for _ in range(chance.source.randrange(3, 9))]
    )
    ring = np.stack([radius * np.cos(turn), radius * np.sin(turn), np.zeros(len(turn))], axis=1)
    ring = np.roll(ring, axis + 1, axis=1) + chance.place()
    ring[:, axis] = float(chance.high[axis]) + chance.size
    away = [0.0, 0.0, 0.0]
    away[axis] = -1.0
    reach = chance.source.choice(["near", "through"])
    takes: dict[str, Any] | None = None
    if chance.source.random() < 0.3:
        depth, floor = chance.length(0.2), chance.source.choice(["flat", "as the surface"])
        takes = {
            "near": {"what": "pocket", "depth": depth, "floor": floor},
            "through": {"what": "hole"},
        }[reach]
    return {
        "takes": takes,
        "tool": "outline",
        "curves": [{"points": ring.tolist()}],
        "along": {"direction": away},
        "reach": reach,
    }


def _gauge(chance: Chance) -> dict[str, Any]:
    count = chance.source.randrange(1, 5)
    axis = chance.source.choice("xyz")
    reach = float(np.ptp(chance.mesh.box[:, "xyz".index(axis)])) or chance.size
    return {
        "tool": "gauge",
        "axis": axis,
        "widths": [reach * chance.source.uniform(0.05, 0.4) for _ in range(count)],
    }


def _profile(chance: Chance) -> dict[str, Any]:
    step = _gauge(chance)
    heights = np.cumsum(step["widths"]).tolist()
    rows = [{"height": height, "diameter": chance.length(0.4)} for height in heights]
    return {"tool": "profile", "axis": step["axis"], "rows": rows}


def _view(chance: Chance) -> dict[str, Any]:
    """The whole part, from anywhere."""
    eye = np.array([chance.source.gauss(0, 1) for _ in range(3)])
    eye *= 2.0 * chance.size / (float(np.linalg.norm(eye)) or 1.0)
    middle = 0.5 * (chance.low + chance.high)
    up = [0.0, 1.0, 0.0] if abs(eye[1]) < 1.8 * chance.size else [1.0, 0.0, 0.0]
    view = {"eye": (middle + eye).tolist(), "target": middle.tolist(), "up": up, "size": [400, 400]}
    if chance.source.random() < 0.5:
        return view | {"projection": "parallel", "height": 1.2 * chance.size}
    return view | {"fov": 35}


def _stroke(chance: Chance) -> dict[str, Any]:
    """A trembling curve over the middle of the view; some come back to where they began."""
    count = chance.source.randrange(2, 40)
    begin, turn = chance.source.uniform(0, 6.3), chance.source.choice([0.5, 2.0, 6.3])
    along = begin + turn * np.linspace(0, 1, count)
    radius = chance.source.uniform(20, 120)
    pixels = np.stack([200 + radius * np.cos(along), 200 + radius * np.sin(along)], axis=1)
    pixels += [[chance.source.gauss(0, 1.5) for _ in range(2)] for _ in range(count)]
    stroke: dict[str, Any] = {"points": pixels.tolist()}
    if chance.source.random() < 0.2:
        stroke["start"] = chance.anchor(chance.face())
    return stroke


def _strokes(chance: Chance) -> dict[str, Any]:
    return {
        "strokes": [_stroke(chance) for _ in range(chance.source.randrange(1, 3))],
        "view": _view(chance),
        "reach": chance.source.choice(["near", "near", "through"]),
        "smooth": chance.source.choice([0, 0, 0.3]),
        "straight": chance.source.random() < 0.1,
    }


def _freehand(chance: Chance) -> dict[str, Any]:
    step = {"tool": "freehand", **_strokes(chance)}
    match chance.source.randrange(4):
        case 0:
            return step | {"keeps": "edges"}
        case 1:
            return step | {"keeps": "edges", "share": chance.share()}
        case 2:
            spread = {"count": chance.source.randrange(1, 5), "ratio": 1.5}
            return step | {"keeps": "edges", "spread": spread}
    return step | {"open_ends": chance.source.choice(["trim", "extend", "join"])}


def _thin(chance: Chance) -> dict[str, Any]:
    step = {"tool": "thin", **_strokes(chance), "loops": chance.source.random() < 0.3}
    if chance.source.random() < 0.5:
        return step
    return step | {"then": "collapse", "share": chance.source.choice([None, 0.5, 0.2])}


def _ruled(chance: Chance) -> dict[str, Any]:
    step: dict[str, Any] = {
        "tool": "ruled",
        "bases": [{"edges": [chance.edge()]} for _ in range(chance.source.randrange(1, 3))],
        "degrees": chance.source.choice([90, 45, 60, chance.source.uniform(5, 175)]),
        "ends": chance.source.choice(["border", "border", "first edge", "whole part"]),
        "side": chance.source.choice(["edge", "whole"]),
        "leaning": chance.source.choice(["one way", "both ways"]),
    }
    match chance.source.randrange(3):
        case 0:
            return step | {"spread": {"count": chance.source.randrange(1, 5)}}
        case 1:
            return step | {"every": chance.length(0.3)}
    return step | {"at": [chance.source.choice([0.0, 1.0, chance.share()])]}


def _seam(chance: Chance) -> dict[str, Any]:
    points = [chance.anchor(chance.face()) for _ in range(chance.source.randrange(2, 4))]
    way = chance.source.choice(["shortest", "shortest", "straight", "plane"])
    return {"tool": "seam", "points": points, "way": way, "closed": chance.source.random() < 0.2}


def _ring(chance: Chance) -> list[int]:
    """The corners of a face, or of a few round a vertex."""
    return np.unique(np.concatenate([chance.mesh.face(f) for f in chance.faces(3)])).tolist()


def _round_face(chance: Chance) -> list[list[int]]:
    """The edges round a face."""
    face, mesh = chance.face(), chance.mesh
    edges = mesh.edges.of_corner[mesh.starts[face] : mesh.starts[face + 1]]
    return np.asarray(mesh.edges.ends[edges]).tolist()


def _size(chance: Chance) -> dict[str, Any]:
    step: dict[str, Any] = {"tool": "size"}
    if chance.source.random() < 0.7:
        step["faces"] = chance.faces()
    match chance.source.randrange(3):
        case 0:
            return step | {"move": [chance.length(0.05) for _ in range(3)]}
        case 1:
            return step | {"extent": {chance.source.choice("xyz"): chance.length(0.5)}}
    return step | {
        "extent": {"x": chance.length(), "z": chance.length()},
        "move": [0, chance.length(0.05), 0],
    }


_MAKERS: dict[str, Callable[[Chance], dict[str, Any]]] = {
    "knife": _knife,
    "loop": _loop,
    "slice": _slice,
    "outline": _outline,
    "gauge": _gauge,
    "profile": _profile,
    "freehand": _freehand,
    "ruled": _ruled,
    "seam": _seam,
    "dissolve": lambda chance: {
        "tool": "dissolve",
        "edges": [chance.edge() for _ in range(chance.source.randrange(1, 4))],
    },
    "collapse": lambda chance: {"tool": "collapse", "vertices": chance.edge()},
    "weld": lambda chance: {"tool": "weld", "distance": chance.length(0.02)},
    "delete": lambda chance: {"tool": "delete", "faces": chance.faces()},
    "separate": lambda chance: {
        "tool": "separate",
        "faces": chance.faces(),
        "each": chance.source.random() < 0.3,
    },
    "flip": lambda chance: {"tool": "flip", "faces": chance.faces()},
    "size": _size,
    "extrude": lambda chance: {
        "tool": "extrude",
        "faces": chance.faces(),
        "distance": chance.length(0.2),
    },
    "inset": lambda chance: {
        "tool": "inset",
        "faces": chance.faces(),
        "distance": chance.length(0.02),
    },
    "round": lambda chance: {
        "tool": "round",
        "vertices": _ring(chance),
        "diameter": chance.length(0.4),
    },
    "bridge": lambda chance: {
        "tool": "bridge",
        "faces": [chance.face(), chance.face()],
        "twist": chance.source.randrange(-2, 3),
    },
    "quads": lambda chance: {
        "tool": "quads",
        "faces": chance.faces() if chance.source.random() < 0.8 else None,
        "way": chance.source.randrange(3),
    },
    "split apart": lambda chance: {
        "tool": "split apart",
        **(
            {"vertices": [chance.edge()[0]]}
            if chance.source.random() < 0.5
            else {"edges": _round_face(chance)}
        ),
    },
    "fill": lambda chance: {
        "tool": "fill",
        "by": chance.source.choice(["one face", "fan", "grid"]),
    },
    "circle": lambda chance: {
        "tool": "circle",
        "face": chance.face(),
        "diameter": chance.length(0.1),
        "count": chance.source.randrange(3, 12),
        "tie": chance.source.choice(["links", "spokes", "quads"]),
    },
    "triangulate": lambda chance: {"tool": "triangulate", "faces": chance.faces()},
    "join triangles": lambda chance: {"tool": "join triangles"},
    "divide": lambda chance: {
        "tool": "divide",
        "faces": chance.faces(),
        "columns": chance.source.choice([2, 2, 3]),
        "rows": chance.source.choice([2, 2, 1]),
    },
    "flatten": lambda chance: {"tool": "flatten", "faces": chance.faces()},
    "line up": lambda chance: {
        "tool": "line up",
        "edges": [chance.edge(), chance.edge()],
        "to": chance.source.choice(["straight", "evenly", "both"]),
    },
    "facing": lambda chance: {"tool": "facing"},
    "thin": _thin,
    "patch": lambda chance: {
        "tool": "patch",
        "faces": chance.faces(),
        "name": chance.source.choice(["", "skin", "lid"]),
        "up_to": chance.source.choice([None, "hard edges", "angle", "connected"]),
    },
    "rename patch": lambda chance: {"tool": "rename patch", "patch": "skin", "name": "lid"},
    "join patches": lambda chance: {"tool": "join patches", "patches": ["skin", "lid"]},
    "clean patch": lambda chance: {
        "tool": "clean patch",
        "faces": chance.faces(6),
        "to": chance.source.choice(["one face", "quads", "triangles"]),
        "heights": chance.source.choice(["keep", "refuse"]),
    },
    "strays": lambda chance: {"tool": "strays", "within": chance.source.choice([1, 20])},
    "shards": lambda chance: {
        "tool": "shards",
        "by": chance.source.choice(
            [
                {"way": "cells", "count": 4, "seed": chance.source.randrange(99)},
                {"way": "random planes", "count": 2, "seed": chance.source.randrange(99)},
                {"way": "counts", "x": 2, "y": 1, "z": 3},
            ]
        ),
        "cap": chance.source.random() < 0.8,
        "thickness": chance.source.choice([0.0, chance.length(0.02)]),
        "as_parts": chance.source.random() < 0.5,
    },
    "thicken": lambda chance: {
        "tool": "thicken",
        "distance": chance.length(0.02) * chance.source.choice([1, -1]),
    },
    "hard edges": lambda chance: {
        "tool": "hard edges",
        "to": chance.source.choice(["hard", "soft", "crease", "crease"]),
        "strength": chance.source.choice([0.25, 0.5, 0.9]),
        **chance.source.choice([{"degrees": 30}, {"edges": [chance.edge()]}]),
    },
    "subdivide": lambda chance: {"tool": "subdivide"},
    "bevel": lambda chance: {
        "tool": "bevel",
        "width": chance.length(),
        "rounds": chance.source.randrange(1, 5),
        **chance.source.choice(
            [{"edges": [chance.edge() for _ in range(3)]}, {"vertices": [chance.face_corner()]}]
        ),
    },
    "move": lambda chance: {
        "tool": "move",
        "faces": chance.faces(2),
        "move": {"way": "shift", "by": [chance.length(0.1) for _ in range(3)]},
        "falloff": chance.source.choice([None, {"rings": 2}]),
    },
    "slide": lambda chance: {"tool": "slide", "edges": [chance.edge()], "by": chance.share() - 0.5},
    "relax": lambda chance: {"tool": "relax", "faces": chance.faces(4), "rounds": 3},
    "place": lambda chance: {
        "tool": "place",
        "move": [chance.length() for _ in range(3)],
        "turn": [chance.source.choice([0, 90, chance.source.uniform(-180, 180)]) for _ in range(3)],
    },
}
CUTS = ("knife", "loop", "slice", "outline", "gauge", "profile", "freehand", "ruled", "seam")
TOOLS = tuple(_MAKERS)


def random_cut(chance: Chance, tool: str) -> dict[str, Any]:
    """One cut by a tool as it comes, nothing done to the sides or to vertices afterwards."""
    step = _MAKERS[tool](chance)
    return {k: v for k, v in step.items() if k not in ("takes", "then", "gap", "cap", "follow")}


def random_step(
    mesh: Mesh, source: random.Random, tools: tuple[str, ...] = TOOLS
) -> dict[str, Any]:
    """One step, as a steps file has it; of cuts some end in quads, follow, or are mirrored."""
    tool = source.choice(tools)
    step = _MAKERS[tool](Chance(mesh, source))
    if tool in CUTS and source.random() < 0.2:
        step["finish"] = "quads"
    return step | _settings(mesh, step)


def _settings(mesh: Mesh, step: dict[str, Any]) -> dict[str, Any]:
    """Settings that many tools have in common, for some steps: drawn from the step itself, so that
    the steps after it are what they would be without."""
    chance = random.Random(json.dumps(step, sort_keys=True))
    middle = mesh.box.mean(axis=0).tolist()
    axis = chance.randrange(3)
    every: list[tuple[str, float, Any]] = [
        ("follow", 0.3, chance.choice([0.5, 1.0])),
        ("mirror", 0.15, {"axis": "xyz"[axis], "offset": middle[axis]}),
        ("hard_above", 0.15, 30.0),
        ("straight_within", 0.5, chance.choice([0.0, 5.0, 60.0])),
        ("woven", 0.15, {"even_to": 30.0, "most_moved": chance.choice([0.1, None])}),
    ]
    fields = TOOLS_OF_STEPS[step["tool"]].params.model_fields
    found = {
        name: value
        for name, often, value in every
        if name in fields and name not in step and chance.random() < often
    }
    # How it is woven says nothing of a cut that isn't.
    return found if "woven" not in found else found | {"finish": "woven"}


def random_walk(
    mesh: Mesh, source: random.Random, length: int, tools: tuple[str, ...] = TOOLS
) -> list[tuple[dict[str, Any], Mesh, Result]]:
    """Steps carried out one after the other, each with the mesh before it; those that are refused
    or change nothing are left out."""
    made: list[tuple[dict[str, Any], Mesh, Result]] = []
    for _ in range(length):
        step = random_step(mesh, source, tools)
        try:
            result = apply_step(mesh, parse_step(step))
        except CutError:
            continue
        if result.mesh is mesh or result.mesh.face_count == 0:
            continue
        made.append((step, mesh, result))
        mesh = result.mesh
    return made
