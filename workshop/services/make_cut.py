"""Make a cut: the geometry first, without a lock; then one transaction that checks the revision
again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from typing import Any, TypeVar

import numpy as np
from django.db import transaction

from cutcore import Mesh, apply_step
from cutcore.aiming.picking.carried import Pick, carried
from cutcore.geometry.arrays import Ints
from cutcore.geometry.placement import Placement
from cutcore.mesh.difference import KeptMesh, applied, difference_between
from cutcore.mesh.result import Origin, Picked, Result
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
from workshop.models import Entry, Part, Snapshot, Step
from workshop.services import history
from workshop.services.live_meshes import State, keep, mesh_of, note_state
from workshop.services.parts import add_part, part_at
from workshop.services.placing import placement_of

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
    to_place: Callable[[Part], Placement] | None = None,
    key: str = "",
) -> Answer:
    """Apply a step to a part and record it; steps that were undone are dropped. `pick` says what is
    picked in the mesh before; `to_place` where the part comes to stand with it. A step that was made
    with the same `key` is not made again: the answer is about the part as it is then.

    Gives what `answer` makes of it. That is asked before the cut is kept for good: where it fails,
    nothing was made. Raises CutError if the step can't be carried out, NothingTo if it would change
    nothing, Stale if the part has moved on, Stopped if it is broken off before it is kept."""
    if (known := _made_before(part_id, key)) is not None:
        return answer(known)
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
        # The same may have been asked for twice at a time.
        if (known := _made_before(part_id, key)) is not None:
            return answer(known)
        part = part_at(part_id, revision)
        number, name = part.position + 1, part.name
        apart = _left_apart(part, tool_of(params).piece, result.apart)
        placed = {} if to_place is None else {part: to_place(part)}
        # Steps that were undone go with their entries.
        history.note(
            part.project_id,
            title_of(params),
            made=apart,
            placed=placed,
            step=(part, number),
            key=key,
        )
        part.refresh_from_db(fields=["placement"])
        part.position, part.revision = number, part.revision + 1
        if part.name != name:
            report["names"] = [name, part.name]
        Step.objects.create(
            part=part,
            number=number,
            params=params.model_dump(mode="json", by_alias=True),
            report=report,
        )
        snapshot = Snapshot.objects.create(part=part, number=number, **asdict(stored))
        part.save(update_fields=["position", "revision", "name"])
        note_state(part, State(snapshot.pk, stored.digest))
        # The answer looks at the mesh, which is not among the live ones before it is kept for good.
        made = answer(Made(part, before, result, held, new_edges))
        transaction.on_commit(lambda: keep(stored.digest, result.mesh), robust=True)
    return made


def _made_before(part_id: int, key: str) -> Made | None:
    """A part as it is, if a step was made of it that whoever asked calls so."""
    if not key:
        return None
    part = part_at(part_id)
    if not Entry.objects.filter(part=part, key=key).exists():
        return None
    mesh = mesh_of(part)
    none = np.zeros(0, dtype=np.int64)
    return Made(part, mesh, Result(mesh, Origin.same(mesh), Picked(), ()), Pick(), none)


def _left_apart(part: Part, piece: str | None, apart: tuple[Mesh, ...]) -> list[Part]:
    """Make parts of what was taken off one, beside it; where these are pieces it is the first."""
    name, numbered = part.name, piece is not None or len(apart) > 1
    made = []
    for k, mesh in enumerate(apart, 2 if piece is not None else 1):
        words = f"{piece or 'taken off'} {k}" if numbered else "taken off"
        made.append(add_part(part.project, f"{name[:100]}, {words}", mesh, placement_of(part)))
    if apart and piece is not None:
        part.name = f"{name[:100]}, {piece} 1"
    return made


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
