"""Make a cut: the geometry first, without a lock; then one transaction that checks the revision
again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from typing import Any, TypeVar

from django.db import transaction

from cutcore import Mesh, apply_step
from cutcore.aiming.picking.carried import Pick, carried
from cutcore.geometry.arrays import Ints
from cutcore.mesh.difference import KeptMesh, applied, difference_between
from cutcore.mesh.result import Result
from cutcore.progress import come_to
from cutcore.queries.flow import flow_counts, flow_counts_after
from cutcore.steps.registry import Step as StepParams
from cutcore.steps.registry import title_of, tool_of
from cutcore.steps.replay import report_of
from workshop.errors import NothingTo
from workshop.mesh_arrays import (
    StoredForm,
    digest_of,
    pack_difference,
    stored_as,
    stored_whole,
    unpack_difference,
)
from workshop.models import Part, Snapshot, Step
from workshop.services.live_meshes import State, keep, mesh_of, note_state
from workshop.services.parts import add_part, part_at, placement_of, touch

# After so many differences in a row a mesh is kept whole, so that opening a part need not redo all
# its cuts.
MOST_DIFFERENCES = 32

Answer = TypeVar("Answer")


@dataclass(frozen=True, eq=False)
class Made:
    """A cut that was made: the part after it, the mesh before it, and what there is to say about
    it.

    `held` is what has become of what was picked before, `new_edges` the numbers of the edges the
    cut picked."""

    part: Part
    before: Mesh
    result: Result
    held: Pick
    new_edges: Ints


def make_cut(
    part_id: int,
    revision: int,
    params: StepParams,
    answer: Callable[[Made], Answer],
    *,
    pick: Callable[[Mesh], Pick] | None = None,
    also: Callable[[Part], dict[str, Any]] | None = None,
) -> Answer:
    """Apply a step to a part and record it; steps that were undone are dropped. `pick` says what is
    picked in the mesh before; `also` changes something else of the part with it, and gives what
    there is to remember of that.

    Gives what `answer` makes of it. That is asked before the cut is kept for good: where it fails,
    nothing was made. Raises CutError if the step can't be carried out, NothingTo if it would change
    nothing, Stale if the part has moved on, Stopped if it is broken off before it is kept."""
    part = part_at(part_id, revision)
    before = mesh_of(part)
    picked = pick(before) if pick else Pick()
    come_to("working the cut out")
    result = apply_step(before, params)
    if result.mesh is before:
        raise NothingTo(result.notes[-1].words)
    come_to("counting the flow")
    report: dict[str, Any] = {
        **report_of(params, before, result).as_json(),
        "title": title_of(params),
    }
    report["quads"] = flow_counts_after(before, result).quads - flow_counts(before).quads
    held, new_edges = carried(before, result, picked), _picked_edges(before, result)
    come_to("packing it")
    stored = stored_form(before, result, whole=_differences_before(part) >= MOST_DIFFERENCES)
    # From here on it is made: a stop that comes later is too late.
    come_to("keeping it")
    with transaction.atomic():
        part = part_at(part_id, revision)
        Step.objects.filter(part=part, number__gt=part.position).delete()
        Snapshot.objects.filter(part=part, number__gt=part.position).delete()
        number = part.position + 1
        part.position, part.revision = number, part.revision + 1
        report |= {} if also is None else also(part)
        report |= _left_apart(part, tool_of(params).piece, result.apart)
        Step.objects.create(
            part=part,
            number=number,
            params=params.model_dump(mode="json", by_alias=True),
            report=report,
        )
        snapshot = Snapshot.objects.create(part=part, number=number, **asdict(stored))
        part.save(update_fields=["position", "revision", "name", "placement"])
        touch(part.project_id)
        note_state(part, State(snapshot.pk, stored.digest))
        # The answer looks at the mesh, which is not among the live ones before it is kept for good.
        made = answer(Made(part, before, result, held, new_edges))
        transaction.on_commit(lambda: keep(stored.digest, result.mesh), robust=True)
    return made


def _left_apart(part: Part, piece: str | None, apart: tuple[Mesh, ...]) -> dict[str, Any]:
    """Make parts of what was taken off one, beside it; what there is to remember of it: they go when
    the step is undone."""
    if not apart:
        return {}
    name, numbered = part.name, piece is not None or len(apart) > 1
    made = []
    for k, mesh in enumerate(apart, 2 if piece is not None else 1):
        words = f"{piece or 'taken off'} {k}" if numbered else "taken off"
        made.append(add_part(part.project, f"{name[:100]}, {words}", mesh, placement_of(part)))
    if piece is not None:
        part.name = f"{name[:100]}, {piece} 1"
    return {"made_parts": [one.pk for one in made], "names": [name, part.name]}


def stored_form(before: Mesh, result: Result, *, whole: bool = False) -> StoredForm:
    """How the mesh that a step made is kept: as a difference if that gives the same mesh back to
    the last bit."""
    after = KeptMesh.of(result.mesh)
    change = None if whole else difference_between(before, result)
    if change is not None:
        packed, digest = pack_difference(change), digest_of(after)
        if digest_of(applied(KeptMesh.of(before), unpack_difference(packed))) == digest:
            return stored_as(packed, False, digest, result.mesh)
    return stored_whole(after)


def _picked_edges(before: Mesh, result: Result) -> Ints:
    """The numbers of the edges that a step picked: what it adds comes last, mostly."""
    edges, picked = result.mesh.edges, result.picked.edges
    found = (
        edges.among_new(picked, len(before.edges))
        if len(edges) > len(before.edges)
        else edges.among_new(picked, 0)
    )
    return edges.among_new(picked, 0) if (found < 0).any() else found


def _differences_before(part: Part) -> int:
    """How many snapshots up to where a part stands were kept as differences since one was kept
    whole."""
    whole = Snapshot.objects.filter(part=part, number__lte=part.position, whole=True).order_by(
        "-number"
    )
    return part.position - (whole.values_list("number", flat=True).first() or 0)
