from __future__ import annotations

from django.db import models

from workshop.models.part import Part


class Snapshot(models.Model):
    """The mesh of a part after so many steps, as compressed arrays. Never changed once written.

    One that is not `whole` holds only what its step changed in the snapshot before it. `digest`
    tells whether what is read is what was made; it is empty where it was kept before there were
    digests, until that was checked. `faces` and `box` tell how many faces it has and the corners of
    the box round them; they too may not be known yet."""

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="snapshots")
    number = models.PositiveIntegerField()
    arrays = models.BinaryField()
    whole = models.BooleanField(default=True)
    digest = models.CharField(max_length=32, default="")
    faces = models.PositiveIntegerField(null=True)
    box = models.JSONField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["part", "number"], name="one_snapshot_a_number")
        ]

    def __str__(self) -> str:
        return f"{self.part_id}:{self.number}"
