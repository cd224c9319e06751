"""What was deleted: it is kept for a while, can be brought back until then, and goes for good after
that."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from workshop.models import Entry, Part, Project
from workshop.services.history import forget_part, parts_kept_for

# Deleted projects and parts can be brought back for this long.
KEPT_DAYS = 30


def deleted_projects() -> QuerySet[Project]:
    """Projects that can be brought back, the last deleted first."""
    return Project.objects.filter(lesson="").exclude(deleted=None).order_by("-deleted")


def deleted_parts(project_id: int) -> list[tuple[Part, str]]:
    """Parts of a project that can be brought back, the last deleted first, and in words what took
    each away, if it was not deleted by itself. What doing something again brings is not among
    them."""
    took: dict[int, str] = {}
    for entry in Entry.objects.filter(project=project_id, undone=0).order_by("pk"):
        took |= dict.fromkeys(entry.gone, entry.words if entry.made else "")
    kept = parts_kept_for(project_id)
    away = Part.objects.filter(project=project_id).exclude(deleted=None).exclude(pk__in=kept)
    return [(part, took.get(part.pk, "")) for part in away.order_by("-deleted", "-pk")]


def days_left(one: Project | Part) -> int:
    """For how many more days what was deleted can be brought back, the day begun counted."""
    gone = timezone.now() - (one.deleted or timezone.now())
    return max(0, KEPT_DAYS - gone.days)


def _long_gone(project_id: int, long_ago: datetime) -> Part | None:
    """A part that was deleted before then and that nothing brings back."""
    away = Part.objects.filter(project=project_id, deleted__lt=long_ago)
    return away.exclude(pk__in=parts_kept_for(project_id)).first()


def delete_for_good(project: Project) -> None:
    """Delete a project with all it has, one part after the other."""
    Entry.objects.filter(project=project).delete()
    for part in project.parts.all():
        part.delete()
    project.delete()


def purge() -> int:
    """Delete for good what was deleted KEPT_DAYS ago, one part after the other, and lessons that
    nobody has touched for as long; gives how many there were."""
    long_ago = timezone.now() - timedelta(days=KEPT_DAYS)
    gone = 0
    given_up = Q(deleted=None, changed__lt=long_ago) & ~Q(lesson="")
    for project in Project.objects.filter(Q(deleted__lt=long_ago) | given_up):
        delete_for_good(project)
        gone += 1
    for project_id in set(
        Part.objects.filter(deleted__lt=long_ago).values_list("project", flat=True)
    ):
        # Asked anew after each: with it go entries that kept others.
        while (old := _long_gone(project_id, long_ago)) is not None:
            with transaction.atomic():
                forget_part(old)
                old.delete()
            gone += 1
    return gone
