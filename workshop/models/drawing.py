from __future__ import annotations

from django.db import models

from workshop.models.project import Project


class Drawing(models.Model):
    """A picture behind or before the parts of a project in one parallel view.

    `placement` says where it stands in that view, `marks` what was read off it; both as the API
    gives them. `revision` grows with every change; `placed` and `marked` are what it was when
    either was changed last."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="drawings")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=40)
    picture = models.BinaryField()
    placement = models.JSONField()
    marks = models.JSONField()
    revision = models.PositiveIntegerField(default=1)
    placed = models.PositiveIntegerField(default=1)
    marked = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name
