"""Outlines of a project: made, changed, copied, dropped."""

from __future__ import annotations

from functools import lru_cache

from django.db import transaction

from cutcore.aiming.placed_sheet import PlacedSheet
from cutcore.outlines.changed import OutlineChange, changed_outline
from cutcore.outlines.drawn import DrawnOutline, SheetCurve, flattened
from workshop.errors import NotThere
from workshop.models import Outline, Project
from workshop.services.touched import touch


def outline_at(outline_id: int) -> Outline:
    """Raises NotThere."""
    found = Outline.objects.filter(pk=outline_id, project__deleted=None).first()
    if found is None:
        raise NotThere("this outline is not there any more")
    return found


def add_outline(
    project: Project, name: str, drawn: DrawnOutline, sheet: PlacedSheet | None = None
) -> Outline:
    """A new outline, the last of its project."""
    with transaction.atomic():
        made = Outline.objects.create(
            project=project,
            name=name.strip()[:120] or "Outline",
            drawn=drawn.model_dump(mode="json"),
            sheet=None if sheet is None else sheet.model_dump(mode="json"),
        )
        touch(project.pk)
    return made


def change_outline(
    outline_id: int,
    *,
    name: str | None = None,
    drawn: DrawnOutline | None = None,
    change: OutlineChange | None = None,
) -> Outline:
    """Give an outline another name or another form, or change the form it has."""
    with transaction.atomic():
        outline = outline_at(outline_id)
        if change is not None:
            drawn = changed_outline(drawn or drawn_of(outline), change)
        outline.name = (name or "").strip()[:120] or outline.name
        outline.drawn = outline.drawn if drawn is None else drawn.model_dump(mode="json")
        outline.save(update_fields=["name", "drawn"])
        touch(outline.project_id)
    return outline


def drop_outline(outline_id: int) -> None:
    with transaction.atomic():
        outline = outline_at(outline_id)
        outline.delete()
        touch(outline.project_id)


def drawn_of(outline: Outline) -> DrawnOutline:
    return DrawnOutline.model_validate(outline.drawn)


def curves_of(outline_ids: list[int]) -> list[SheetCurve]:
    """The curves of some outlines as straight pieces, one outline after the other. Raises
    NotThere."""
    return [curve for outline_id in outline_ids for curve in _curves(outline_at(outline_id))]


def _curves(outline: Outline) -> tuple[SheetCurve, ...]:
    return _flat(drawn_of(outline))


# The same outline is asked for at every move of the pointer.
@lru_cache(maxsize=64)
def _flat(drawn: DrawnOutline) -> tuple[SheetCurve, ...]:
    return tuple(flattened(drawn))
