"""Measure the engine: one table of ratios, all taken in the same run, so that a noisy machine does
not matter.

P is one NumPy pass that projects all the part's vertices.
"""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from bench import peers
from bench.broken import SIZE as BALL
from bench.broken import broken_rows
from bench.drawn import drawn_rows
from bench.examples import SIZE, examples_measured
from bench.form import SIZE as FORM
from bench.form import form_rows
from bench.judged import judges_share
from bench.parts import PARTS, SIZES
from bench.row import Row
from bench.service import Service, loop_preview_seconds, part_of, slice_seconds
from bench.timing import median, times, times_once
from cutcore import Mesh, apply_step, parse_step, trace_step
from cutcore.aiming.marks import Settling, mark_at
from cutcore.geometry.camera import Camera, View
from cutcore.imprint import subdivide
from cutcore.imprint.dry_run import flow_after
from cutcore.mesh.tolerance import weld_of
from cutcore.queries.flow import flow_counts
from cutcore.shapes.sheet import sheet


def main() -> None:
    wanted = sys.argv[1:] or list(SIZES)
    print(f"{'part':<22}{'work':<52}{'ratio':>8}  {'bar':>5}")
    if not sys.argv[1:]:
        for row in examples_measured():
            print(row.line("small", SIZE), flush=True)
        for row in broken_rows():
            print(row.line("ball", BALL), flush=True)
        for row in form_rows():
            print(row.line("torus", FORM), flush=True)
    for kind, make in PARTS.items():
        for size in wanted:
            for row in measured(make(SIZES[size]), kind):
                print(row.line(kind, size), flush=True)


def measured(mesh: Mesh, kind: str) -> Iterator[Row]:
    """All rows for one part."""
    warm(mesh)
    view = view_of(mesh, 0)
    camera = Camera.of(view)
    chance = np.random.default_rng(5)
    pointers = iter(np.tile(chance.uniform((250, 200), (650, 500), (200, 2)), (3, 1)))
    marks = times(lambda: mark_at(mesh, tuple(next(pointers)), camera, Settling()), 200)
    yield Row(
        "mark under the pointer, p95", float(np.percentile(marks, 95)) / pass_over(mesh), "P", 0.3
    )
    turns = iter(range(1, 100))
    first = median(
        lambda: mark_at(mesh, (450, 350), Camera.of(view_of(mesh, next(turns))), Settling()), 15
    )
    yield Row("first pointer move after the view changed", first / pass_over(mesh), "P", 3.0)
    across = median(lambda: planned(mesh, knife_across(mesh, view)))
    yield Row("knife stretch across the part, with its plan", across / pass_over(mesh), "P", 5.0)
    if kind == "torus":
        edge = mesh.edges.ends[mesh.edges.of_corner[1]].tolist()
        loop = parse_step({"tool": "loop", "edge": edge, "at": [0.3]})
        count = len(trace_step(mesh, loop).face)
        yield Row(
            f"edge loop, preview on a ring of {count}",
            median(lambda: trace_step(mesh, loop)) / pass_over(mesh),
            "P",
            0.5,
        )
        many = parse_step({"tool": "loop", "edge": edge, "spread": {"count": LOOPS}})
        one_made = median(lambda: apply_step(mesh, loop).mesh.edges)
        many_made = median(lambda: apply_step(mesh, many).mesh.edges)
        yield Row(f"{LOOPS} loops on that ring, made", many_made / one_made, "one loop", 6.0)
    plane = {"point": [0.0, 0.0, 0.0], "normal": list(peers.NORMAL)}
    cut = parse_step({"tool": "slice", "plane": plane})
    made = median(lambda: apply_step(mesh, cut).mesh.edges)
    yield Row("slice, made, connectivity ready", made / peers.by_vtk(mesh), "vtk", 1.0)
    yield Row("slice, made, connectivity ready", made / peers.by_trimesh(mesh), "trimesh", 0.25)
    finished = parse_step({"tool": "slice", "plane": plane, "finish": "quads"})
    in_quads = median(lambda: apply_step(mesh, finished).mesh.edges, 3)
    yield Row("a slice whose faces end in quads, made", in_quads / made, "slice", 20.0)
    bent = parse_step({"tool": "slice", "plane": plane, "finish": "woven"})
    woven = median(lambda: apply_step(mesh, bent).mesh.edges, 3)
    yield Row("a slice woven in, made", woven / made, "slice", 6.0)
    family = parse_step(
        {
            "tool": "gauge",
            "direction": list(peers.NORMAL),
            "widths": [gap_of(mesh, PLANES)] * PLANES,
        }
    )
    yield Row(
        f"{PLANES} gauge planes, made",
        median(lambda: apply_step(mesh, family).mesh.edges, 7) / made,
        "slice",
        3.0,
    )
    for work, step in (("a slice", cut), (f"{PLANES} gauge planes", family)):
        yield Row(f"the judge's share of {work}, made", judges_share(mesh, step), "cut", 0.1)
    yield from through_the_service(mesh, kind)
    shape = outline_above(mesh, 1.0 if kind == "torus" else 0.2)
    yield Row(
        "outline of 400 points, with its plan",
        median(lambda: planned(mesh, shape), 7) / pass_over(mesh),
        "P",
        8.0,
        "64 k",
    )
    wide = parse_step(outline_on_a_sheet())
    flat = sheet(4, 4, round(mesh.face_count**0.5), round(mesh.face_count**0.5))
    yield Row(
        "outline round a tenth of a sheet, made, its inside picked",
        median(lambda: apply_step(flat, wide).mesh.edges, 7) / pass_over(flat),
        "P",
        100.0,
        "64 k",
    )
    yield from drawn_rows(mesh, [view_of(mesh, turn) for turn in range(8)], pass_over(mesh))
    local = knife_local(mesh)
    yield Row(
        "local cut of 10 faces, made",
        median(lambda: apply_step(mesh, local).mesh.edges) / pass_over(mesh),
        "P",
        1.0,
    )
    yield Row("undo, without transfer", undo_seconds(mesh, local) / pass_over(mesh), "P", 0.2)


PLANES = 40
LOOPS = 20


def gap_of(mesh: Mesh, planes: int) -> float:
    """The gap at which so many planes divide the part evenly along the normal of the slice."""
    normal = np.array(peers.NORMAL)
    return float(np.ptp(mesh.points @ (normal / np.linalg.norm(normal)))) / (planes + 1)


# What a request and its transfer may add to a preview.
REQUEST_SECONDS = 0.010


def through_the_service(mesh: Mesh, kind: str) -> Iterator[Row]:
    """A preview and a made slice as the page gets them, over a socket."""
    from django.core.management import call_command

    call_command("migrate", verbosity=0)
    service, part = Service(), part_of(mesh)
    if kind == "torus":
        seconds, crossed = loop_preview_seconds(service, part, view_of(mesh, 0), (450, 350))
        yield Row(
            f"loop preview over {crossed}, by the service, less 10 ms",
            (seconds - REQUEST_SECONDS) / pass_over(mesh),
            "P",
            0.5,
        )
    plane = {"point": [0.0, 0.0, 0.0], "normal": list(peers.NORMAL)}
    made, sent, share = slice_seconds(service, part, {"tool": "slice", "plane": plane})
    yield Row(
        "slice, made and kept by the service, less 10 ms",
        (made - REQUEST_SECONDS) / peers.by_vtk(mesh),
        "vtk",
        1.0,
    )
    yield Row("its changes, sent, less 10 ms", (sent - REQUEST_SECONDS) / pass_over(mesh), "P", 1.0)
    yield Row("their bytes", share, "whole", 0.1)
    service.stop()


def warm(mesh: Mesh) -> None:
    """What is there once a part has been opened: connectivity and the ray caster."""
    mark_at(mesh, (0, 0), Camera.of(view_of(mesh, 0)), Settling())
    mesh.edges.at_vertex(0)


def pass_over(mesh: Mesh) -> float:
    """P in seconds, taken anew for every row: a machine shared with others changes its pace from
    one second to the next."""
    turn = np.linalg.qr(np.random.default_rng(1).normal(size=(3, 3)))[0]
    shift, w = np.array([0.1, 0.2, 9.0]), np.array([0.0, 0.0, 1.0])

    def project() -> np.ndarray:
        s = mesh.points @ turn + shift
        return np.asarray(s / (s @ w)[:, None])

    return median(project, 15)


def view_of(mesh: Mesh, turn: int) -> View:
    angle = 0.4 + 0.05 * turn
    eye = 3.0 * mesh.diagonal * np.array([np.sin(angle), 0.5, np.cos(angle)])
    return View(eye=tuple(eye.tolist()), target=(0, 0, 0), fov=32, size=(900, 700))


def knife_across(mesh: Mesh, view: View) -> object:
    line = {"points": [{"screen": [20, 330]}, {"screen": [880, 370]}]}
    return parse_step({"tool": "knife", "lines": [line], "view": view.model_dump()})


def outline_above(mesh: Mesh, x: float) -> object:
    """A wavy outline of 400 points on a sheet over the part, projected down."""
    turn = 2 * np.pi * (np.arange(400) + 0.3) / 400
    reach = 0.25 * (1 + 0.2 * np.sin(7 * turn))
    middle = np.array([x, float(mesh.box[1, 1]) + 0.5, 0.013])
    points = middle + np.stack([reach * np.cos(turn), np.zeros(400), -reach * np.sin(turn)], axis=1)
    return parse_step(
        {
            "tool": "outline",
            "curves": [{"points": points.tolist()}],
            "along": {"direction": [0, -1, 0]},
        }
    )


def outline_on_a_sheet() -> dict[str, Any]:
    """A wavy outline of 400 points over a sheet of 4 by 4."""
    turn = 2 * np.pi * (np.arange(400) + 0.3) / 400
    reach = 0.65 * (1 + 0.2 * np.sin(7 * turn))
    points = np.stack([reach * np.cos(turn), np.ones(400), -reach * np.sin(turn)], axis=1)
    return {
        "tool": "outline",
        "curves": [{"points": points.tolist()}],
        "along": {"direction": [0, -1, 0]},
    }


def knife_local(mesh: Mesh) -> object:
    """A line over ten faces of a ring, from the half of one edge to the half of the tenth after
    it."""
    edge = int(mesh.edges.of_corner[mesh.starts[mesh.face_count // 3]])
    pairs = [edge]
    face = int(mesh.edges.faces[edge, 0])
    for _ in range(10):
        row = mesh.edges.of_corner[mesh.starts[face] : mesh.starts[face + 1]].tolist()
        edge = row[(row.index(edge) + 2) % 4]
        pairs.append(edge)
        a, b = mesh.edges.faces_at(edge)
        face = b if a == face else a
    points = [{"edge": mesh.edges.ends[e].tolist(), "t": 0.5} for e in pairs]
    return parse_step({"tool": "knife", "lines": [{"points": points}]})


def planned(mesh: Mesh, step: object) -> object:
    """What a plan asks for: the trace, and the flow of quads before and after."""
    trace = trace_step(mesh, step)
    return flow_after(mesh, flow_counts(mesh), subdivide(mesh, trace, weld=weld_of(mesh)))


def undo_seconds(mesh: Mesh, step: object) -> float:
    """Undo through the service, to the mesh that is then drawn."""
    from django.core.management import call_command

    from workshop.services.live_meshes import mesh_of
    from workshop.services.make_cut import make_cut
    from workshop.services.parts import add_part
    from workshop.services.projects import add_project
    from workshop.services.undo import redo, undo

    call_command("migrate", verbosity=0)
    part = add_part(add_project("Bench"), "Bench", mesh)
    part = make_cut(part.pk, part.revision, step, lambda made: made.part)
    revision = [part.revision]

    def there_and_back(move: Callable[..., object]) -> float:
        def go() -> None:
            moved = move(part.pk, revision[0], lambda moved: moved)
            revision[0] = moved.revision
            mesh_of(moved)

        return times_once(go)

    found = []
    for _ in range(9):
        found.append(there_and_back(undo))
        there_and_back(redo)
    return float(np.median(found))


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as folder:
        os.environ["WERTOME_DATA"] = folder
        os.environ["DJANGO_SETTINGS_MODULE"] = "wertome.settings"
        import django

        django.setup()
        main()
