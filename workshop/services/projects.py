"""Projects: listing, making, renaming, deleting and bringing one back."""

from __future__ import annotations

from django.db import transaction
from django.db.models import OuterRef, Prefetch, QuerySet, Subquery
from django.utils import timezone

from cutcore.geometry.units import Unit
from workshop.errors import NotThere, Stale
from workshop.models import Drawing, GaugeList, Outline, Part, Project, Snapshot
from workshop.services.copying import copy_all
from workshop.services.touched import touch


def projects() -> QuerySet[Project]:
    """All projects that are there, those of lessons too, the last changed first, each with its
    parts and what these are at: two queries."""
    here = Snapshot.objects.filter(part=OuterRef("pk"), number=OuterRef("position"))
    there = Part.objects.filter(deleted=None).annotate(
        at_snapshot=Subquery(here.values("pk")),
        at_digest=Subquery(here.values("digest")),
        at_faces=Subquery(here.values("faces")),
        at_box=Subquery(here.values("box")),
    )
    return Project.objects.filter(deleted=None).prefetch_related(Prefetch("parts", there))


def listed_projects() -> QuerySet[Project]:
    """The projects that people have, without the copies that lessons are taken on."""
    return projects().filter(lesson="")


def project_at(project_id: int) -> Project:
    """A project that is there. Raises NotThere."""
    project = projects().filter(pk=project_id).first()
    if project is None:
        raise NotThere("this project was deleted")
    return project


def add_project(name: str, unit: Unit = "mm") -> Project:
    return Project.objects.create(name=name.strip()[:120] or "New project", unit=unit)


def duplicate_project(project_id: int) -> Project:
    """A copy of a project with all its parts, their steps and undone states."""
    with transaction.atomic():
        original = project_at(project_id)
        copy = Project.objects.create(
            name=f"{original.name[:112]} (copy)", unit=original.unit, file_unit=original.file_unit
        )
        copy_all(original, copy)
        for kind in (GaugeList, Drawing, Outline):
            for kept in kind.objects.filter(project=original):
                kept.pk, kept.project = None, copy
                kept.save(force_insert=True)
    return copy


def change_project(
    project_id: int, *, name: str | None = None, unit: Unit | None = None
) -> Project:
    """Rename a project, or say what unit its numbers are in: the numbers themselves stay."""
    with transaction.atomic():
        project = project_at(project_id)
        project.name = (name or "").strip()[:120] or project.name
        project.unit = unit or project.unit
        project.save(update_fields=["name", "unit", "changed"])
    return project


def arrange_parts(project_id: int, parts: list[int]) -> Project:
    """Put the parts of a project in another order. Raises Stale if these are not all of them."""
    with transaction.atomic():
        project = project_at(project_id)
        there = {part.pk: part for part in project.parts.all()}
        if sorted(parts) != sorted(there):
            raise Stale("parts were added or deleted elsewhere meanwhile")
        for order, part in enumerate(parts):
            there[part].order = order
        Part.objects.bulk_update(there.values(), ["order"])
        touch(project_id)
    return project_at(project_id)


def delete_project(project_id: int) -> None:
    """Take a project away; `restore_project` brings it back."""
    with transaction.atomic():
        project = project_at(project_id)
        project.deleted = timezone.now()
        project.save(update_fields=["deleted"])


def restore_project(project_id: int) -> Project:
    with transaction.atomic():
        project = Project.objects.filter(pk=project_id).first()
        if project is None:
            raise NotThere("this project is not there any more")
        project.deleted = None
        project.save(update_fields=["deleted"])
    return project
