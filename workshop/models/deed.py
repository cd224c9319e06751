from __future__ import annotations

from django.db import models

from workshop.models.project import Project


class Deed(models.Model):
    """Something done to the parts of a project as a whole, so that it can be undone.

    `made` are the parts it made and `gone` those it took away, by number; `placed` tells of each
    part it moved where that stood before and after. `beside` are parts that went when it was undone,
    since those it had made had left them."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="deeds")
    words = models.CharField(max_length=200)
    made = models.JSONField(default=list)
    gone = models.JSONField(default=list)
    placed = models.JSONField(default=dict)
    beside = models.JSONField(default=list)
    undone = models.BooleanField(default=False)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.words
