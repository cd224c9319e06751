"""Drawings: pictures that stand behind the parts of a project, and what is read off them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.db import transaction

from workshop.aside import aside
from workshop.errors import NotThere, Stale, TooLarge
from workshop.models import Drawing, Project
from workshop.readers import picture_kind

PICTURE_BYTES = 20 << 20


def add_drawing(
    project: Project,
    name: str,
    data: bytes,
    placement: dict[str, Any],
    marks: dict[str, Any],
    *,
    stopped: Callable[[], bool] = lambda: False,
) -> Drawing:
    """A new drawing from the bytes of a picture. Nothing is stored if it can't be shown."""
    if len(data) > PICTURE_BYTES:
        raise TooLarge(f"the picture is over the limit of {PICTURE_BYTES >> 20} MB")
    kind = aside(picture_kind, data, stopped=stopped)
    return keep_drawing(project, name, (kind, data), placement, marks)


def keep_drawing(
    project: Project,
    name: str,
    picture: tuple[str, bytes],
    placement: dict[str, Any],
    marks: dict[str, Any],
) -> Drawing:
    """A new drawing from a picture that is known to be one: its media type and its bytes."""
    kind, data = picture
    return Drawing.objects.create(
        project=project, name=name[:120], kind=kind, picture=data, placement=placement, marks=marks
    )


def drawing_at(drawing_id: int) -> Drawing:
    """Raises NotThere."""
    found = Drawing.objects.filter(pk=drawing_id, project__deleted=None).first()
    if found is None:
        raise NotThere("this drawing is not there any more")
    return found


def change_drawing(
    drawing_id: int,
    revision: int,
    *,
    placement: dict[str, Any] | None = None,
    marks: dict[str, Any] | None = None,
) -> Drawing:
    """Put a drawing elsewhere, or note what was read off it; what is None stays.

    Raises Stale if the same was changed since the revision its author has seen. Whoever moves a
    drawing does not undo what somebody else read off it meanwhile."""
    with transaction.atomic():
        drawing = drawing_at(drawing_id)
        changed = ["revision"]
        for given, field, since in ((placement, "placement", "placed"), (marks, "marks", "marked")):
            if given is None:
                continue
            if getattr(drawing, since) > revision:
                raise Stale("the drawing was changed elsewhere meanwhile")
            setattr(drawing, field, given)
            setattr(drawing, since, drawing.revision + 1)
            changed += [field, since]
        if len(changed) > 1:
            drawing.revision += 1
            drawing.save(update_fields=changed)
    return drawing
