"""The command line: `python -m cutcore apply|flow|schema`."""

from __future__ import annotations

import argparse
import json
import sys
import warnings
from pathlib import Path
from typing import Any, NoReturn

from cutcore.errors import CutError, shortened
from cutcore.formats.files import READERS, read_part, write_part
from cutcore.mesh.mesh import Mesh
from cutcore.mesh.tolerance import RELATIVE_WELD
from cutcore.notes import Note
from cutcore.queries.flow import flow
from cutcore.queries.quality import MEASURES, quality
from cutcore.steps.replay import apply_steps
from cutcore.steps.steps_file import parse_steps, steps_schema
from cutcore.version import VERSION

FORMATS = ", ".join(READERS)


def main(arguments: list[str] | None = None) -> int:
    """Run one command; 0 if it was done, 2 with one line on stderr if not."""
    options = _parser().parse_args(arguments)
    try:
        with warnings.catch_warnings():
            # Overflows and the like are judged by what comes out of them; the words about them are
            # for us, not for users.
            warnings.simplefilter("ignore")
            return int(options.run(options))
    except CutError as refusal:
        words = str(refusal)
    except OSError as trouble:
        words = f"{trouble.filename}: {trouble.strerror}"
    except MemoryError:
        words = "this takes more memory than there is"
    except Exception as fault:
        words = f"an unforeseen fault, {type(fault).__name__}: {fault}"
    print(shortened(f"cutcore: {words}"), file=sys.stderr)
    return 2


class _Parser(argparse.ArgumentParser):
    """Refuses in one line."""

    def error(self, message: str) -> NoReturn:
        self.exit(2, shortened(f"{self.prog}: {message}; see {self.prog} --help") + "\n")


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="cutcore", description="Cuts across polygon meshes, from a steps file.")
    parser.add_argument("--version", action="version", version=f"cutcore {VERSION}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    apply = commands.add_parser("apply", help="carry out a steps file on a part")
    apply.add_argument("steps", type=Path, metavar="STEPS.json")
    apply.add_argument(
        "--in", dest="source", type=Path, required=True, metavar="PART", help=f"a part as {FORMATS}"
    )
    apply.add_argument(
        "--out",
        type=Path,
        required=True,
        metavar="RESULT",
        help="where to write it, in any of these formats",
    )
    apply.add_argument(
        "--report",
        type=Path,
        metavar="REPORT.json",
        help="where to write what was done; else to stdout",
    )
    words = f"length within which places count as one, as a share of the part's diagonal (default {RELATIVE_WELD:g})"
    apply.add_argument("--weld", type=_share, default=RELATIVE_WELD, metavar="SHARE", help=words)
    apply.set_defaults(run=_apply)
    report = commands.add_parser("flow", help="print the flow report of a part as JSON")
    report.add_argument("part", type=Path, metavar="PART")
    report.set_defaults(run=_flow)
    schema = commands.add_parser("schema", help="print the JSON Schema of a steps file")
    schema.set_defaults(run=_schema)
    return parser


def _share(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        value = -1.0
    if not 0.0 <= value <= 0.01:
        raise argparse.ArgumentTypeError(f"a share from 0 to 0.01, got {text[:40]!r}")
    return value


def _apply(options: argparse.Namespace) -> int:
    steps = parse_steps(options.steps.read_bytes())
    mesh, notes = _read(options.source)
    done = apply_steps(mesh, steps.steps, weld=options.weld)
    report = {
        "steps": [r.as_json() for r in done.reports],
        "notes": [n.as_json() for n in notes],
        "quality": {"before": _quality(mesh), "after": _quality(done.mesh)},
    }
    data = write_part(options.out.name, done.mesh)
    for number, part in enumerate(done.apart, 2):
        # Parts that were taken off go beside the result, numbered on.
        beside = options.out.with_stem(f"{options.out.stem}-{number}")
        _write(beside, write_part(beside.name, part))
    _write(options.out, data)
    text = json.dumps(report, indent=1) + "\n"
    if options.report:
        _write(options.report, text.encode())
    else:
        print(text, end="")
    return 0


def _flow(options: argparse.Namespace) -> int:
    mesh, notes = _read(options.part)
    told = {**flow(mesh).as_json(), "quality": _quality(mesh)}
    print(json.dumps({**told, "notes": [n.as_json() for n in notes]}, indent=1))
    return 0


def _quality(mesh: Mesh) -> dict[str, Any]:
    """How well the faces of a part are formed, by every measure."""
    return {measure: quality(mesh, measure).as_json() for measure in MEASURES}


def _schema(options: argparse.Namespace) -> int:
    print(json.dumps(steps_schema(), indent=1))
    return 0


def _read(path: Path) -> tuple[Mesh, tuple[Note, ...]]:
    try:
        return read_part(path.name, path.read_bytes())
    except CutError as refusal:
        where = f"{path.name}: {refusal.where}" if refusal.where else path.name
        raise type(refusal)(refusal.words, elements=refusal.elements, where=where) from refusal


def _write(path: Path, data: bytes) -> None:
    """Write all of a file or none of it."""
    partial = path.with_name(path.name + ".part")
    partial.write_bytes(data)
    partial.replace(path)


if __name__ == "__main__":
    sys.exit(main())
