from __future__ import annotations

from django.db import models


class Project(models.Model):
    """A saved workspace. A deleted one is kept for a while, so that deleting can be undone.

    `unit` is what a length of 1 in its parts means; `file_unit` what it meant in the file that was
    brought in last. One with a `lesson` is the copy that this lesson is taken on: it is no
    project of anybody's, and goes for good with the lesson."""

    name = models.CharField(max_length=120)
    unit = models.CharField(max_length=2, default="mm")
    file_unit = models.CharField(max_length=2, default="mm")
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True, blank=True)
    lesson = models.CharField(max_length=40, blank=True, default="")

    class Meta:
        ordering = ["-changed", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["lesson"], condition=~models.Q(lesson=""), name="one_copy_a_lesson"
            )
        ]

    def __str__(self) -> str:
        return self.name
