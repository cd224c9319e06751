"""The layout: which room may use which."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

from django.test import SimpleTestCase

HERE = Path(__file__).parents[2]

# Each room may use those before it, and itself.
ROOMS = (
    "version",
    "notes",
    "errors",
    "progress",
    "params",
    "geometry",
    "words",
    "kernels",
    "mesh",
    "shapes",
    "queries",
    "trace",
    "imprint",
    "quads",
    "weave",
    "tool",
    "reshape",
    "outlines",
    "formats",
    "tools",
    "table",
    "aiming",
    "steps",
    "previews",
)
# Within the application: the front door, the doors, what they call, and what that keeps.
DOORS = ("models", "storage", "services", "api")


# The same for the front end's folders; each tool uses the reshapes and the settings that tools share, but no other tool.
FOLDERS = (
    "options",
    "api",
    "space",
    "ui",
    "stores",
    "hand",
    "viewport",
    "page",
    "about",
    "shapes",
    "projects",
    "outlines",
    "plan",
    "tools/settings",
    "tools/reshape",
    "tools/*",
    "tools",
    "drawing",
    "patches",
    "table",
    "lessons",
    "workshop",
    "App",
    "main",
)


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
        self.paths = {
            name: path
            for folder in ("cutcore", "workshop", "wertome")
            for name, path in modules(folder)
        }
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
                self.assertLessEqual(
                    ROOMS.index(room), ROOMS.index(parts[1]), f"{name} uses {used}"
                )

    def test_the_engine_knows_nothing_of_the_application_and_services_nothing_of_doors(
        self,
    ) -> None:
        for name, uses in self.uses.items():
            parts = name.split(".")
            for used in uses:
                if parts[0] == "cutcore":
                    self.assertTrue(used.startswith("cutcore"), f"{name} uses {used}")
                elif (
                    len(parts) > 1
                    and parts[1] in DOORS
                    and used.split(".")[0] == "workshop"
                    and used.count(".")
                ):
                    room = used.split(".")[1]
                    if room in DOORS:
                        self.assertLessEqual(
                            DOORS.index(room), DOORS.index(parts[1]), f"{name} uses {used}"
                        )

    def test_no_module_uses_itself_by_a_detour(self) -> None:
        assert_no_circle(self, self.uses)


def assert_no_circle(case: SimpleTestCase, uses: dict[str, set[str]]) -> None:
    """No file uses itself by way of others."""
    done: set[str] = set()

    def visit(name: str, way: tuple[str, ...]) -> None:
        case.assertNotIn(name, way, " → ".join((*way, name)))
        if name not in done:
            for used in sorted(uses.get(name, set()) - {name}):
                visit(used, (*way, name))
            done.add(name)

    for name in uses:
        visit(name, ())


class Folders(SimpleTestCase):
    """The front end's layout."""

    def test_folders_use_those_before_them_and_no_tool_another(self) -> None:
        root = HERE / "web" / "src"
        uses: dict[str, set[str]] = {}
        for path in sorted(root.rglob("*.ts*")):
            name = path.relative_to(root).with_suffix("").as_posix()
            found = re.findall(r"(?:from|import) '(\.[^']+)'", path.read_text())
            uses[name] = {
                (path.parent / used).resolve().relative_to(root).as_posix() for used in found
            }
        for name, there in uses.items():
            for used in there:
                if used.endswith(".css"):
                    continue
                here, below = place_of(name), place_of(used)
                self.assertLessEqual(
                    FOLDERS.index(below), FOLDERS.index(here), f"{name} uses {used}"
                )
                if here == below == "tools/*":
                    self.assertEqual(name.split("/")[1], used.split("/")[1], f"{name} uses {used}")
        assert_no_circle(self, uses)


def place_of(name: str) -> str:
    """Which of the folders a file of the front end lies in."""
    parts = name.split("/")
    if parts[0] == "tools" and len(parts) > 1 and parts[1] != "all":
        inner = f"tools/{parts[1]}"
        return inner if inner in FOLDERS else "tools/*"
    return parts[0]
