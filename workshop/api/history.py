"""The order of what was done in a project: looked at, undone, done again."""

from __future__ import annotations

from typing import Literal

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from workshop.api.base import Id, In
from workshop.api.shapes import EntryOut, ErrorOut, NextOut, ProjectOut
from workshop.models import Entry
from workshop.services import history
from workshop.services.deleted import days_left, deleted_parts
from workshop.services.parts import part_at
from workshop.services.projects import project_at
from workshop.storage.reading import reading

router = Router(tags=["history"])

# So many of the last are listed.
LISTED = 300


class HistoryOut(Schema):
    """What was done in a project, the last first, and what is undone and done again next."""

    entries: list[EntryOut]
    next: NextOut


@router.get("/projects/{project_id}/history", response={200: HistoryOut, 404: ErrorOut})
def get_history(request: HttpRequest, project_id: Id) -> HistoryOut:
    with reading():
        project = project_at(project_id)
        entries = Entry.objects.filter(project=project).select_related("part", "project")
        last = entries.order_by("-pk")[:LISTED]
        return HistoryOut(
            entries=[EntryOut.of(entry) for entry in last], next=NextOut.of(project_id)
        )


class EntryIn(In):
    """What is meant: it is refused if something else was done since. Null for whatever is next."""

    entry: Id | None = None


class TurnedOut(Schema):
    """All that was undone, or done again, in that order; and what is next then."""

    turned: list[EntryOut]
    next: NextOut


def _turned(
    project_id: int,
    way: Literal["undo", "redo"],
    entry: int | None = None,
    *,
    on_table: bool = False,
) -> TurnedOut:
    with transaction.atomic():
        turned = history.turn(project_at(project_id).pk, way, entry, on_table=on_table)
        return TurnedOut(turned=[EntryOut.of(one) for one in turned], next=NextOut.of(project_id))


TURNED = {200: TurnedOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut}


@router.post("/projects/{project_id}/undo", response=TURNED)
def undo(request: HttpRequest, project_id: Id, body: EntryIn) -> TurnedOut:
    """Undo what was done last in the project, whatever it was. Asked for twice for the same entry, it
    is undone once."""
    return _turned(project_id, "undo", body.entry)


@router.post("/projects/{project_id}/redo", response=TURNED)
def redo(request: HttpRequest, project_id: Id, body: EntryIn) -> TurnedOut:
    """Do again what was undone last in the project."""
    return _turned(project_id, "redo", body.entry)


ON_TABLE = {200: ProjectOut, 404: ErrorOut, 409: ErrorOut, 422: ErrorOut}


@router.post("/projects/{project_id}/undo-deed", response=ON_TABLE)
def undo_deed(request: HttpRequest, project_id: Id) -> ProjectOut:
    """Undo what was done last on the table, and first what was done since and rests on it."""
    _turned(project_id, "undo", on_table=True)
    return ProjectOut.of(project_at(project_id))


@router.post("/projects/{project_id}/redo-deed", response=ON_TABLE)
def redo_deed(request: HttpRequest, project_id: Id) -> ProjectOut:
    """Do again what was undone last on the table."""
    _turned(project_id, "redo", on_table=True)
    return ProjectOut.of(project_at(project_id))


@router.get("/parts/{part_id}/steps/{number}/along", response={200: list[EntryOut], 404: ErrorOut})
def get_along(request: HttpRequest, part_id: Id, number: Id) -> list[EntryOut]:
    """What undoing a step of a part takes along beside later steps of it: what was done since and
    rests on it, the last first."""
    with reading():
        return [EntryOut.of(one) for one in history.along_with(part_at(part_id), number)]


class DeletedPartOut(Schema):
    """A part that was deleted, or that another came of, and that can be brought back."""

    id: int
    name: str
    words: str = Field(description="what took it away, if it was not deleted by itself")
    days_left: int = Field(description="after so many days it is gone for good")


@router.get(
    "/projects/{project_id}/deleted-parts",
    response={200: list[DeletedPartOut], 404: ErrorOut},
)
def list_deleted_parts(request: HttpRequest, project_id: Id) -> list[DeletedPartOut]:
    with reading():
        found = deleted_parts(project_at(project_id).pk)
        return [
            DeletedPartOut(id=part.pk, name=part.name, words=words, days_left=days_left(part))
            for part, words in found
        ]
