from __future__ import annotations

from django.db import models

from workshop.models.part import Part


class Step(models.Model):
    """One made cut: its parameters as in a steps file, and what it did. Numbered from 1 within its
    part."""

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="steps")
    number = models.PositiveIntegerField()
    params = models.JSONField()
    report = models.JSONField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["part", "number"], name="one_step_a_number")]

    def __str__(self) -> str:
        return f"{self.part_id}:{self.number}"
