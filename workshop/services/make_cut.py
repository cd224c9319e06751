"""Make a cut: the geometry first, without a lock; then one transaction that checks the revision again."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from cutcore import Mesh, apply_step
from cutcore.flow import flow_counts, flow_counts_after
from cutcore.result import Result
from cutcore.steps import Step as StepParams
from cutcore.steps import report_of
from workshop.errors import NothingTo
from workshop.mesh_arrays import pack_difference, pack_mesh
from workshop.mesh_difference import difference_between
from workshop.models import Part, Snapshot, Step
from workshop.services.live_meshes import keep, mesh_of, note_snapshot
from workshop.services.parts import add_part, part_at, touch

# After so many differences in a row a mesh is kept whole, so that opening a part need not redo all its cuts.
MOST_DIFFERENCES = 32


def make_cut(part_id: int, revision: int, params: StepParams) -> tuple[Part, Mesh, Result]:
    """Apply a step to a part and record it; steps that were undone are dropped. Returns also the mesh before it.

    Raises CutError if the step can't be carried out, NothingTo if it would change nothing, Stale if the part has moved on.
    """
    part = part_at(part_id, revision)
    before = mesh_of(part)
    result = apply_step(before, params)
    if result.mesh is before:
        raise NothingTo(result.notes[-1].words)
    report: dict[str, Any] = report_of(params, before, result).as_json()
    report["quads"] = flow_counts_after(before, result).quads - flow_counts(before).quads
    change = difference_between(before, result) if _differences_before(part) < MOST_DIFFERENCES else None
    packed = pack_mesh(result.mesh) if change is None else pack_difference(change)
    with transaction.atomic():
        part = part_at(part_id, revision)
        Step.objects.filter(part=part, number__gt=part.position).delete()
        Snapshot.objects.filter(part=part, number__gt=part.position).delete()
        number = part.position + 1
        Step.objects.create(part=part, number=number, params=params.model_dump(mode="json", by_alias=True), report=report)
        snapshot = Snapshot.objects.create(part=part, number=number, arrays=packed, whole=change is None)
        part.position, part.revision = number, part.revision + 1
        part.save(update_fields=["position", "revision"])
        for taken_off in result.apart:
            add_part(part.project, f"{part.name}, taken off", taken_off)
        touch(part.project_id)
    keep(snapshot.pk, result.mesh)
    note_snapshot(part, snapshot.pk)
    return part, before, result


def _differences_before(part: Part) -> int:
    """How many snapshots up to where a part stands were kept as differences since one was kept whole."""
    whole = Snapshot.objects.filter(part=part, number__lte=part.position, whole=True).order_by("-number")
    return part.position - (whole.values_list("number", flat=True).first() or 0)
