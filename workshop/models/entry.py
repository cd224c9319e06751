from __future__ import annotations

from django.db import models

from workshop.models.part import Part
from workshop.models.project import Project


class Entry(models.Model):
    """One thing done in a project. All of them stand in one order, that of their numbers.

    A step of a part names it and the step's `number`. `made` are the parts that came with it and
    `gone` those it took away, by number; `placed` tells of each part it moved where that stood
    before and after. `undone` is 0 while it is done; those that were undone together have the same,
    and the greatest are done again first. `key` is what whoever asked for a step of the part calls
    it, so that asking twice does it once."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="entries")
    words = models.CharField(max_length=200)
    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="entries", null=True)
    number = models.PositiveIntegerField(null=True)
    made = models.JSONField(default=list)
    gone = models.JSONField(default=list)
    placed = models.JSONField(default=dict)
    undone = models.PositiveIntegerField(default=0)
    key = models.CharField(max_length=64, default="")

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["part", "key"], condition=~models.Q(key=""), name="one_entry_a_key"
            )
        ]

    def __str__(self) -> str:
        return self.words
