"""When a project was changed last."""

from __future__ import annotations

from django.utils import timezone

from workshop.models import Project


def touch(project_id: int) -> None:
    """Note that a project was changed."""
    Project.objects.filter(pk=project_id).update(changed=timezone.now())
