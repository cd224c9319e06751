"""The layout: which room may use which."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

from django.test import SimpleTestCase

HERE = Path(__file__).parents[2]

# Each room may use those before it, and itself.
ROOMS = (
    "notes",
    "errors",
    "params",
    "geometry",
    "words",
    "kernels",
    "mesh",
    "shapes",
    "queries",
    "trace",
    "imprint",
    "tool",
    "reshape",
    "outlines",
    "formats",
    "tools",
    "aiming",
    "steps",
    "previews",
)
# Within the application: the front door, the doors, what they call, and what that keeps.
DOORS = ("models", "storage", "services", "api")


def modules(folder: str) -> Iterator[tuple[str, Path]]:
    for path in sorted((HERE / folder).rglob("*.py")):
        yield ".".join(path.relative_to(HERE).with_suffix("").parts).removesuffix(".__init__"), path


def imported(path: Path, known: set[str]) -> set[str]:
    """The modules of ours that a file names."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module:
            for alias in node.names:
                inner = f"{node.module}.{alias.name}"
                found.add(inner if inner in known else node.module)
        elif isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
    return found & known


class Rooms(SimpleTestCase):
    def setUp(self) -> None:
        self.paths = {name: path for folder in ("cutcore", "workshop", "wertome") for name, path in modules(folder)}
        self.uses = {name: imported(path, set(self.paths)) for name, path in self.paths.items()}

    def test_rooms_of_the_engine_use_those_below_them_only(self) -> None:
        for name, uses in self.uses.items():
            parts = name.split(".")
            if parts[0] != "cutcore" or len(parts) == 1 or parts[1] == "__main__":
                continue
            self.assertIn(parts[1], ROOMS, f"{name} is in no room")
            for used in uses:
                room = used.split(".")[1] if "." in used else used
                self.assertIn(room, ROOMS, f"{name} uses {used}")
                self.assertLessEqual(ROOMS.index(room), ROOMS.index(parts[1]), f"{name} uses {used}")

    def test_the_engine_knows_nothing_of_the_application_and_services_nothing_of_doors(self) -> None:
        for name, uses in self.uses.items():
            parts = name.split(".")
            for used in uses:
                if parts[0] == "cutcore":
                    self.assertTrue(used.startswith("cutcore"), f"{name} uses {used}")
                elif len(parts) > 1 and parts[1] in DOORS and used.split(".")[0] == "workshop" and used.count("."):
                    room = used.split(".")[1]
                    if room in DOORS:
                        self.assertLessEqual(DOORS.index(room), DOORS.index(parts[1]), f"{name} uses {used}")

    def test_no_module_uses_itself_by_a_detour(self) -> None:
        done: set[str] = set()

        def visit(name: str, way: tuple[str, ...]) -> None:
            self.assertNotIn(name, way, " → ".join((*way, name)))
            if name not in done:
                for used in sorted(self.uses[name] - {name}):
                    visit(used, (*way, name))
                done.add(name)

        for name in self.uses:
            visit(name, ())
