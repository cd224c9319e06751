from __future__ import annotations

from django.db import models

from workshop.models.project import Project


class Outline(models.Model):
    """A shape kept in a project, to be projected onto its parts. `drawn` is the engine's outline,
    in the project's unit; `sheet` where it lay in space, if it was lifted off a part."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="outlines")
    name = models.CharField(max_length=120)
    drawn = models.JSONField()
    sheet = models.JSONField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name
