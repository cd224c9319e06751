from __future__ import annotations

from django.db import models


class Project(models.Model):
    """A saved workspace. A deleted one is kept for a while, so that deleting can be undone.

    `unit` is what a length of 1 in its parts means; `file_unit` what it meant in the file that was
    brought in last."""

    name = models.CharField(max_length=120)
    unit = models.CharField(max_length=2, default="mm")
    file_unit = models.CharField(max_length=2, default="mm")
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-changed", "-pk"]

    def __str__(self) -> str:
        return self.name
