"""What was deleted: it is kept for a while, can be brought back until then, and goes for good after
that."""

from __future__ import annotations

from datetime import timedelta

from django.db.models import QuerySet
from django.utils import timezone

from workshop.models import Part, Project

# Deleted projects and parts can be brought back for this long.
KEPT_DAYS = 30


def deleted_projects() -> QuerySet[Project]:
    """Projects that can be brought back, the last deleted first."""
    return Project.objects.exclude(deleted=None).order_by("-deleted")


def days_left(project: Project) -> int:
    """For how many more days a deleted project can be brought back, the day begun counted."""
    gone = timezone.now() - (project.deleted or timezone.now())
    return max(0, KEPT_DAYS - gone.days)


def purge() -> int:
    """Delete for good what was deleted KEPT_DAYS ago, one part after the other; gives how many
    there were."""
    long_ago = timezone.now() - timedelta(days=KEPT_DAYS)
    gone = 0
    for project in Project.objects.filter(deleted__lt=long_ago):
        for part in project.parts.all():
            part.delete()
        project.delete()
        gone += 1
    for part in Part.objects.filter(deleted__lt=long_ago):
        part.delete()
        gone += 1
    return gone
