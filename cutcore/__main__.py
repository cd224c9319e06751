"""The command line: `python -m cutcore apply|flow|schema`."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from cutcore.errors import CutError
from cutcore.flow import flow
from cutcore.formats.files import READERS, read_part, write_part
from cutcore.mesh import Mesh
from cutcore.notes import Note
from cutcore.steps import apply_steps, parse_steps, steps_schema
from cutcore.tolerance import RELATIVE_WELD

FORMATS = ", ".join(READERS)


def main(arguments: list[str] | None = None) -> int:
    """Run one command; 0 if it was done, 2 with one line on stderr if not."""
    options = _parser().parse_args(arguments)
    try:
        return int(options.run(options))
    except CutError as refusal:
        print(f"cutcore: {refusal}", file=sys.stderr)
    except OSError as trouble:
        print(f"cutcore: {trouble.filename}: {trouble.strerror}", file=sys.stderr)
    return 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="cutcore", description="Cuts across polygon meshes, from a steps file.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    apply = commands.add_parser("apply", help="carry out a steps file on a part")
    apply.add_argument("steps", type=Path, metavar="STEPS.json")
    apply.add_argument("--in", dest="source", type=Path, required=True, metavar="PART", help=f"a part as {FORMATS}")
    apply.add_argument("--out", type=Path, required=True, metavar="RESULT", help="where to write it, in any of these formats")
    apply.add_argument("--report", type=Path, metavar="REPORT.json", help="where to write what was done; else to stdout")
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
    value = float(text)
    if not 0.0 <= value <= 0.01:
        raise ValueError(text)
    return value


def _apply(options: argparse.Namespace) -> int:
    steps = parse_steps(options.steps.read_bytes())
    mesh, notes = _read(options.source)
    done = apply_steps(mesh, steps.steps, weld=options.weld)
    report = {"steps": [r.as_json() for r in done.reports], "notes": [n.as_json() for n in notes]}
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
    print(json.dumps({**flow(mesh).as_json(), "notes": [n.as_json() for n in notes]}, indent=1))
    return 0


def _schema(options: argparse.Namespace) -> int:
    print(json.dumps(steps_schema(), indent=1))
    return 0


def _read(path: Path) -> tuple[Mesh, tuple[Note, ...]]:
    try:
        return read_part(path.name, path.read_bytes())
    except CutError as refusal:
        raise refusal.at(path.name + (":" if refusal.where else "")) from refusal


def _write(path: Path, data: bytes) -> None:
    """Write all of a file or none of it."""
    partial = path.with_name(path.name + ".part")
    partial.write_bytes(data)
    partial.replace(path)


if __name__ == "__main__":
    sys.exit(main())
