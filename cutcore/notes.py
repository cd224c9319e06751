"""Notes: what the engine has to say about a plan, a cut or a file that it did not refuse."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Element:
    """A place on a part, written like the points of a steps file: a vertex, an edge, a face or a
    position."""

    kind: str
    value: int | tuple[int, int] | tuple[float, float, float]

    def as_json(self) -> dict[str, Any]:
        """`{"vertex": 3}`, `{"edge": [4, 9]}`, `{"face": 17}` or `{"at": [x, y, z]}`."""
        return {self.kind: list(self.value) if isinstance(self.value, tuple) else self.value}


def vertex(index: int) -> Element:
    return Element("vertex", int(index))


def edge(ends: Any) -> Element:
    return Element("edge", (int(ends[0]), int(ends[1])))


def face(index: int) -> Element:
    return Element("face", int(index))


def position(at: Any) -> Element:
    return Element("at", (float(at[0]), float(at[1]), float(at[2])))


@dataclass(frozen=True)
class Note:
    """One remark: `code` for programs, `words` for people, `elements` for the places to show.

    Elements are those of the mesh before the step; what is new is named by its position.
    """

    code: str
    words: str
    elements: tuple[Element, ...] = ()

    def as_json(self) -> dict[str, Any]:
        return {
            "code": self.code,
            "words": self.words,
            "elements": [e.as_json() for e in self.elements],
        }
