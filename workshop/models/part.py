from __future__ import annotations

from django.db import models

from workshop.models.project import Project


class Part(models.Model):
    """One mesh of a project.

    `position` says how many of its steps are applied: undo and redo move it. `revision` grows with
    every change, undo included, so that a write aimed at an older state is noticed. A `hidden` part
    is kept out of sight, and out of the way, among the others. `placement` says where it stands on
    the table; nothing for where it was modelled."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="parts")
    name = models.CharField(max_length=120)
    order = models.PositiveIntegerField(default=0)
    position = models.PositiveIntegerField(default=0)
    revision = models.PositiveIntegerField(default=1)
    hidden = models.BooleanField(default=False)
    placement = models.JSONField(default=dict)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["order", "pk"]

    def __str__(self) -> str:
        return self.name
