from __future__ import annotations

from django.db import models

from workshop.models.project import Project


class GaugeList(models.Model):
    """A list of distances kept by name in a project: the parameters of a gauge, without a limit or
    mirror."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="gauge_lists")
    name = models.CharField(max_length=120)
    params = models.JSONField()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["project", "name"], name="one_gauge_list_a_name")
        ]

    def __str__(self) -> str:
        return self.name
