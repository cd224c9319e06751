"""Deeds: what was done to the parts of a project as a whole, undone and redone."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from django.db import transaction
from django.utils import timezone

from cutcore.geometry.placement import Placement
from workshop.errors import NothingTo
from workshop.models import Deed, Part
from workshop.services.left_apart import bring_back, left_by, take_away
from workshop.services.parts import stored_placement, touch

# So many deeds of a project can be undone.
KEPT_DEEDS = 100


def note_deed(
    project_id: int,
    words: str,
    *,
    made: Iterable[Part] = (),
    gone: Iterable[Part] = (),
    placed: Mapping[int, tuple[Part, Placement]] | None = None,
) -> Deed:
    """Record what is done within a transaction, and do what is left to do of it: take away what is
    gone, and place what is placed."""
    Deed.objects.filter(project=project_id, undone=True).delete()
    gone = list(gone)
    moved = {
        number: [part.placement, stored_placement(placement)]
        for number, (part, placement) in (placed or {}).items()
    }
    deed = Deed.objects.create(
        project_id=project_id,
        words=words[:200],
        made=[part.pk for part in made],
        gone=[part.pk for part in gone],
        placed=moved,
    )
    _put(deed, done=True)
    old = Deed.objects.filter(project=project_id).order_by("-pk").values_list("pk", flat=True)
    Deed.objects.filter(pk__in=list(old[KEPT_DEEDS:])).delete()
    return deed


def undo_deed(project_id: int) -> Deed:
    """Undo the last deed of a project. Raises NothingTo if there is none, or its parts are gone for
    good."""
    return _turn(project_id, done=False)


def redo_deed(project_id: int) -> Deed:
    """Do the first of the deeds again that were undone last. Raises NothingTo like `undo_deed`."""
    return _turn(project_id, done=True)


def _turn(project_id: int, *, done: bool) -> Deed:
    with transaction.atomic():
        deeds = Deed.objects.filter(project=project_id, undone=done)
        deed = deeds.order_by("pk" if done else "-pk").first()
        if deed is None:
            raise NothingTo(f"there is nothing to {'redo' if done else 'undo'} on the table")
        wanted = {*deed.made, *deed.gone}
        if Part.objects.filter(pk__in=wanted).count() < len(wanted):
            raise NothingTo("the parts of it are gone for good")
        deed.undone = not done
        deed.save(update_fields=["undone"])
        _put(deed, done=done)
    return deed


def _put(deed: Deed, *, done: bool) -> None:
    now = timezone.now()
    here, away = (deed.made, deed.gone) if done else (deed.gone, deed.made)
    Part.objects.filter(pk__in=here).update(deleted=None)
    Part.objects.filter(pk__in=away, deleted=None).update(deleted=now)
    # What parts that it made have left beside them goes and comes with them.
    if done:
        bring_back(deed.beside)
    else:
        deed.beside = take_away(left_by(deed.made))
        deed.save(update_fields=["beside"])
    for number, (before, after) in deed.placed.items():
        Part.objects.filter(pk=int(number)).update(placement=after if done else before)
    touch(deed.project_id)
