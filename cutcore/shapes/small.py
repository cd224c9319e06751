"""Small meshes by name, for examples."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from cutcore.mesh.mesh import Mesh
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.turned import turned

SmallMesh = Literal["cube", "plate", "drum"]

SMALL: dict[SmallMesh, Callable[[], Mesh]] = {
    "cube": lambda: box(2, 2, 2, (3, 3, 3)),
    "plate": lambda: sheet(4, 3, 4, 3),
    "drum": lambda: turned([(1.0, 0.0), (1.2, 1.0), (1.0, 2.0)], 8),
}

# Views of them, as steps files have them.
FROM_ABOVE: dict[str, Any] = {
    "eye": [0, 10, 0],
    "target": [0, 0, 0],
    "up": [0, 0, -1],
    "projection": "parallel",
    "height": 8,
    "size": [800, 800],
}
FROM_A_CORNER: dict[str, Any] = {
    "eye": [3, 4, 5],
    "target": [0, 0, 0],
    "up": [0, 1, 0],
    "fov": 35,
    "size": [800, 600],
}
