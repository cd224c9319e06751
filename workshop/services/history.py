"""One order of what was done in a project: steps of its parts and what was done on the table, undone
and done again.

What an entry changes, and what it takes for granted, is told by aspects of parts: that a part is
there, where it stands, and its mesh. One entry rests on another before it if it changes or takes for
granted what that one changed. Undoing takes along what came after and rests on it; doing again, what
it rests on. Those that rest on nothing of one another may be undone in any order."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Literal

from django.db.models import F, Max, Q, QuerySet
from django.utils import timezone

from cutcore.geometry.placement import Placement
from workshop.errors import NothingTo, NotThere, Stale
from workshop.models import Entry, Part, Project, Snapshot, Step
from workshop.services.placing import stored_placement
from workshop.services.touched import touch

Aspect = tuple[int, Literal["there", "place", "mesh"]]


def note(
    project_id: int,
    words: str,
    *,
    made: Iterable[Part] = (),
    gone: Iterable[Part] = (),
    placed: Mapping[Part, Placement] | None = None,
    step: tuple[Part, int] | None = None,
    key: str = "",
) -> Entry:
    """Record what is done within a transaction, and do what is left to do of it: take away what is
    gone, and place what is placed. A step, as its part and number, has been taken already.

    What was undone before and can't be done again after this is dropped."""
    part, number = (None, None) if step is None else step
    entry = Entry(
        project_id=project_id,
        words=words[:200],
        part=part,
        number=number,
        made=[one.pk for one in made],
        gone=[one.pk for one in gone],
        placed={
            str(one.pk): [one.placement, stored_placement(placement)]
            for one, placement in (placed or {}).items()
        },
        key=key,
    )
    _drop_those_against(entry)
    entry.save()
    _put_parts(entry, done=True)
    touch(project_id)
    return entry


def next_of(
    project_id: int, way: Literal["undo", "redo"], *, on_table: bool = False
) -> Entry | None:
    """What is undone, or done again, next; nothing that happened to a part that is not there, and
    `on_table` no step of a part."""
    there = Q(part=None) if on_table else Q(part=None) | Q(part__deleted=None)
    seen = Entry.objects.filter(there, project=project_id).select_related("part", "project")
    if way == "undo":
        return seen.filter(undone=0).order_by("-pk").first()
    return seen.exclude(undone=0).order_by("-undone").first()


def turn(
    project_id: int,
    way: Literal["undo", "redo"],
    entry_id: int | None = None,
    *,
    on_table: bool = False,
) -> list[Entry]:
    """Undo what was done last, or do again what was undone last, and what goes along with it; gives
    the entries in the order they were turned. With `entry_id` only that one is meant: nothing is
    changed if it is turned already. `on_table` steps of parts are passed over.

    Within a transaction. Raises NothingTo if there is nothing, Stale if another is next."""
    if entry_id is not None:
        meant = Entry.objects.filter(project=project_id, pk=entry_id).first()
        if meant is not None and (meant.undone == 0) == (way == "redo"):
            return []
    found = next_of(project_id, way, on_table=on_table)
    if found is None:
        raise NothingTo(f"there is nothing to {way}")
    if entry_id is not None and found.pk != entry_id:
        raise Stale("something else was done meanwhile")
    return undo_entry(found) if way == "undo" else redo_entry(found)


def entry_of_step(part: Part, number: int) -> Entry:
    """The entry of a step that is there."""
    return Entry.objects.get(part=part, number=number)


def entry_that_made(part: Part) -> Entry | None:
    """The entry that a part came with last; none if that is in the order no more."""
    entries = Entry.objects.filter(project=part.project_id).order_by("-pk")
    return next((entry for entry in entries.iterator() if part.pk in entry.made), None)


def along_with(part: Part, number: int) -> list[Entry]:
    """What undoing a step of a part takes along beside later steps of it, the last first. Raises
    NotThere."""
    entry = Entry.objects.filter(part=part, number=number).first()
    if entry is None:
        raise NotThere("this step is not there any more")
    going = [] if entry.undone else those_resting_on(entry)[::-1]
    return [one for one in going if one.part_id != part.pk]


def those_resting_on(entry: Entry) -> list[Entry]:
    """An entry that is done, and those after it that rest on it, in order."""
    going = [entry]
    later = Entry.objects.filter(project=entry.project_id, undone=0, pk__gt=entry.pk)
    for one in later.order_by("pk"):
        if any(_rests(one, on) for on in going):
            going.append(one)
    return going


def undo_entry(entry: Entry) -> list[Entry]:
    """Undo an entry that is done, and first what rests on it; gives all of these in the order they
    were undone."""
    going = those_resting_on(entry)[::-1]
    most = _ranks(entry.project_id).aggregate(most=Max("undone"))["most"] or 0
    for one in going:
        _put(one, done=False)
        one.undone = most + 1
    Entry.objects.bulk_update(going, ["undone"])
    touch(entry.project_id)
    return going


def redo_entry(entry: Entry) -> list[Entry]:
    """Do an entry again that is undone, with those that were undone along with it, and first what
    these rest on; gives all of them in the order they were done again."""
    coming: list[Entry] = []
    for one in _ranks(entry.project_id).order_by("-pk"):
        if one.undone == entry.undone or any(_rests(other, one) for other in coming):
            coming.append(one)
    coming.reverse()
    for one in coming:
        _put(one, done=True)
        one.undone = 0
    Entry.objects.bulk_update(coming, ["undone"])
    touch(entry.project_id)
    return coming


def _ranks(project_id: int) -> QuerySet[Entry]:
    return Entry.objects.filter(project=project_id).exclude(undone=0)


def _writes(entry: Entry) -> set[Aspect]:
    found: set[Aspect] = {(number, "there") for number in (*entry.made, *entry.gone)}
    found |= {(int(number), "place") for number in entry.placed}
    if entry.part_id is not None:
        found.add((entry.part_id, "mesh"))
    return found


def _reads(entry: Entry) -> set[Aspect]:
    """What an entry takes for granted. What parts are made of is taken as it is."""
    found: set[Aspect] = {(int(number), "there") for number in entry.placed}
    for number in entry.gone if entry.made else ():
        found |= {(number, "place"), (number, "mesh")}
    if entry.part_id is not None:
        found.add((entry.part_id, "there"))
        if entry.made:
            # What a step leaves beside its part stands where that stands.
            found.add((entry.part_id, "place"))
    return found


def _rests(later: Entry, earlier: Entry) -> bool:
    return bool((_writes(later) | _reads(later)) & _writes(earlier))


def _drop_those_against(entry: Entry) -> None:
    """Drop undone entries that can't be done again once this one is, and those that rest on them.

    Steps of a part that only came with such an entry stay with it: it can still be brought back."""
    writes, touches = _writes(entry), _writes(entry) | _reads(entry)
    # What was undone of a part that comes or goes waits until it is there.
    changes = {(number, aspect) for number, aspect in writes if aspect != "there"}
    dropped: list[Entry] = []
    left: list[Entry] = []
    for one in _ranks(entry.project_id).order_by("pk"):
        against = _writes(one) & touches or _reads(one) & changes
        apart = one.part_id is not None and any(one.part_id in other.made for other in dropped)
        if against or (not apart and any(_rests(one, other) for other in dropped)):
            dropped.append(one)
        elif apart:
            left.append(one)
    for one in dropped:
        if one.part_id is not None and one.number is not None:
            Step.objects.filter(part=one.part_id, number=one.number).delete()
            Snapshot.objects.filter(part=one.part_id, number=one.number).delete()
    Entry.objects.filter(pk__in=[one.pk for one in dropped]).delete()
    # What stays of a part that is not there is done again by itself, after all else.
    if left:
        _ranks(entry.project_id).update(undone=F("undone") + len(left))
        for rank, one in enumerate(reversed(left), 1):
            Entry.objects.filter(pk=one.pk).update(undone=rank)


def _put(entry: Entry, *, done: bool) -> None:
    """Put back what an entry changed, or change it again. Raises NothingTo if parts of it are gone
    for good."""
    wanted = {*entry.made, *entry.gone}
    if Part.objects.filter(pk__in=wanted).count() < len(wanted):
        raise NothingTo("the parts of it are gone for good")
    if entry.part_id is not None and entry.number is not None:
        part = Part.objects.get(pk=entry.part_id)
        names = part.steps.defer("params").get(number=entry.number).report.get("names")
        part.position = entry.number if done else entry.number - 1
        part.revision += 1
        if names and part.name == names[0 if done else 1]:
            part.name = names[1 if done else 0]
        part.save(update_fields=["position", "revision", "name"])
    _put_parts(entry, done=done)


def _put_parts(entry: Entry, *, done: bool) -> None:
    here, away = (entry.made, entry.gone) if done else (entry.gone, entry.made)
    Part.objects.filter(pk__in=here).update(deleted=None)
    Part.objects.filter(pk__in=away, deleted=None).update(deleted=timezone.now())
    for number, (before, after) in entry.placed.items():
        Part.objects.filter(pk=int(number)).update(placement=after if done else before)


def forget_part(part: Part) -> None:
    """A part goes for good: what took it away can't be undone any more, and what else was done tells
    of the others alone. Steps of other parts stay, whatever they left beside them."""
    for entry in Entry.objects.filter(project=part.project_id):
        if part.pk not in (*entry.made, *entry.gone) and str(part.pk) not in entry.placed:
            continue
        took = part.pk in entry.gone
        entry.made = [number for number in entry.made if number != part.pk]
        entry.placed.pop(str(part.pk), None)
        if took or (entry.part_id is None and not entry.made and not entry.placed):
            entry.delete()
        else:
            entry.save(update_fields=["made", "placed"])


def parts_kept_for(project_id: int) -> set[int]:
    """The numbers of the parts that are not there, but that doing something again, or undoing and
    redoing it, brings back: they are part of the project and stay."""
    taken: set[int] = set()
    came: set[int] = set()
    for entry in Entry.objects.filter(project=project_id):
        came |= set(entry.made)
        if not entry.undone:
            taken |= set(entry.gone)
    away = Part.objects.filter(project=project_id).exclude(deleted=None)
    return set(away.filter(pk__in=came - taken).values_list("pk", flat=True))


def parts_of_project(project: Project) -> list[Part]:
    """The parts of a project in their order, those among them that are not there but that undoing,
    or doing something again, brings back."""
    named: set[int] = set()
    for entry in Entry.objects.filter(project=project):
        named |= {*entry.made, *entry.gone, *map(int, entry.placed)}
        named |= set() if entry.part_id is None else {entry.part_id}
    parts = Part.objects.filter(project=project)
    return list(parts.filter(Q(deleted=None) | Q(pk__in=named)))
