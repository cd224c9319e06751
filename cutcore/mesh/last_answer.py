"""The last answer to a question about a mesh: a plan asks the same of it several times over."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

from cutcore.mesh.mesh import Mesh

Answer = TypeVar("Answer")


def last_answer(mesh: Mesh, name: str, question: Hashable, make: Callable[[], Answer]) -> Answer:
    """What was answered to the same question under this name the last time, or what `make` gives
    now.

    It must not refer to the mesh itself (see `Mesh.held`), nor be changed.
    """
    kept: list[tuple[Hashable, Any]] = mesh.held(name, lambda _: [])
    for asked, answer in kept[-1:]:
        if asked == question:
            found: Answer = answer
            return found
    made = make()
    kept[:] = [(question, made)]
    return made
