"""Parts copied with all that can be undone and done again in them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any

from django.db.models import F
from django.utils import timezone

from cutcore.geometry.placement import Placement
from workshop.models import Entry, Part, Project, Snapshot, Step
from workshop.services.history import parts_of_project
from workshop.services.placing import placement_of, stored_placement


def copy_part(part: Part, placement: dict[str, Any] | None = None) -> Part:
    """A copy of a part in its project, with its steps and undone states; it has the same place in
    the order, and stands where the part does, or at `placement`.

    What a step of it left beside it is copied as it was left, out of sight: it comes when that step
    of the copy is done again."""
    copy = _copied(part, part.project, placement)
    numbers = {part.pk: copy.pk}
    steps = list(Entry.objects.filter(part=part).order_by("number"))
    for entry, before, after in _where_it_stands(steps, placement_of(copy)):
        if entry.placed:
            entry.placed = {str(part.pk): [stored_placement(before), stored_placement(after)]}
        for piece in Part.objects.filter(pk__in=entry.made):
            left = _copied(piece, part.project, stored_placement(after), as_left=True)
            numbers[piece.pk] = left.pk
    add_entries(steps, numbers, part.project)
    return copy


def _where_it_stands(
    steps: Sequence[Entry], now: Placement
) -> Iterator[tuple[Entry, Placement, Placement]]:
    """The steps of a part, in order, and where it stands before and after each so that it is seen
    where it is `now`: those that made its place its own move it the other way."""
    done = [step for step in steps if not step.undone]
    stands = now
    for step in reversed(done):
        after = stands
        stands = after.after(_own_place(step))
        yield step, stands, after
    stands = now
    for step in steps[len(done) :]:
        before = stands
        stands = before.after(_own_place(step).undone)
        yield step, before, stands


def _own_place(step: Entry) -> Placement:
    """The place that a step made its part's own."""
    before = step.placed.get(str(step.part_id), [{}])[0]
    return Placement.model_validate(before)


def copy_all(original: Project, copy: Project) -> None:
    """Copy all parts of a project, with what undoing or doing again would bring back, and the order
    of what was done, into an empty one."""
    numbers = {part.pk: _copied(part, copy, None).pk for part in parts_of_project(original)}
    add_entries(Entry.objects.filter(project=original), numbers, copy)


def _copied(
    part: Part, project: Project, placement: dict[str, Any] | None, *, as_left: bool = False
) -> Part:
    snapshots = Snapshot.objects.filter(part=part)
    steps = Step.objects.filter(part=part)
    copy = Part.objects.create(
        project=project,
        name=part.name,
        order=part.order,
        position=0 if as_left else part.position,
        hidden=part.hidden,
        placement=part.placement if placement is None else placement,
        deleted=timezone.now() if as_left else part.deleted,
    )
    rows = list(snapshots.filter(number=0) if as_left else snapshots)
    for row in rows:
        row.pk, row.part = None, copy
    Snapshot.objects.bulk_create(rows)
    made = [] if as_left else list(steps)
    for step in made:
        step.pk, step.part = None, copy
    Step.objects.bulk_create(made)
    return copy


def add_entries(entries: Iterable[Entry], numbers: Mapping[int, int], project: Project) -> None:
    """Add entries to a project, in their order, that tell of parts by numbers of elsewhere: these
    become the values of `numbers`. Those of parts that have none are left out."""
    entries = list(entries)
    copies = []
    # Those of the project that are undone are done again first.
    undone = sorted({entry.undone for entry in entries if entry.undone})
    Entry.objects.filter(project=project).exclude(undone=0).update(undone=F("undone") + len(undone))
    for entry in entries:
        named = {*entry.made, *entry.gone, *map(int, entry.placed)}
        if entry.part_id is not None:
            named.add(entry.part_id)
        if not named <= numbers.keys():
            continue
        placed: dict[str, Any] = {str(numbers[int(n)]): both for n, both in entry.placed.items()}
        copies.append(
            Entry(
                project=project,
                words=entry.words,
                part_id=None if entry.part_id is None else numbers[entry.part_id],
                number=entry.number,
                made=[numbers[number] for number in entry.made],
                gone=[numbers[number] for number in entry.gone],
                placed=placed,
                undone=undone.index(entry.undone) + 1 if entry.undone else 0,
            )
        )
    Entry.objects.bulk_create(copies)
