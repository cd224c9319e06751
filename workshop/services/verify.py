"""Verify what is kept: every mesh is read, made again from the steps, and compared.

A mesh with a digest is right if it is what its digest says, whatever a later version of the engine
makes of the same steps. One without a digest was kept by a version that could lose moved vertices:
it is right if the steps give the same."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from django.db import transaction

from cutcore import CutError, apply_step, parse_step
from cutcore.mesh.difference import KeptMesh
from workshop.mesh_arrays import digest_of, pack_mesh
from workshop.models import Part, Snapshot, Step
from workshop.services.live_meshes import UNREADABLE, stored_mesh

Say = Callable[[str], object]


@dataclass
class Verified:
    """How many meshes were looked at, how many differed from their steps, were made anew, and are
    lost."""

    meshes: int = 0
    differ: int = 0
    mended: int = 0
    lost: int = 0

    def add(self, other: Verified) -> None:
        for name in self.__dataclass_fields__:
            setattr(self, name, getattr(self, name) + getattr(other, name))

    def words(self) -> str:
        return f"{self.meshes} meshes verified: {self.differ} differ from their steps, {self.mended} made anew, {self.lost} lost"


def verify_all(say: Say, *, only_unsure: bool = False) -> Verified:
    """Verify all parts, or those with meshes that were kept without a digest; tells what differs,
    and how far it is."""
    parts = (
        Part.objects.filter(snapshots__digest="").distinct() if only_unsure else Part.objects.all()
    )
    numbers = list(parts.order_by("pk").values_list("pk", flat=True))
    total = Verified()
    for k, number in enumerate(numbers, 1):
        if only_unsure:
            say(f"checking what was kept by an earlier version: part {k} of {len(numbers)}")
        total.add(verify_part(number, say))
    return total


def _say_of(say: Say, what: str, words: str) -> None:
    say(f"{what}: {words}")


def verify_part(part_id: int, say: Say) -> Verified:
    """Verify one part; a wrong mesh whose steps are whole is made anew, all of them in one
    transaction."""
    found = Verified()
    with transaction.atomic():
        part = Part.objects.get(pk=part_id)
        steps = {step.number: step for step in Step.objects.filter(part=part)}
        # As it is stored, and as it is right: they part where something is made anew.
        stored: KeptMesh | None = None
        right: KeptMesh | None = None
        for snapshot in (
            Snapshot.objects.filter(part=part).order_by("number").iterator(chunk_size=1)
        ):
            found.meshes += 1
            told = f"{part.name} (part {part.pk}), step {snapshot.number}"
            before, was_mended = right, right is not stored
            # A mesh that can't be read leaves what changed in it to the one made anew.
            stored, sound = _read(snapshot, right if stored is None else stored)
            judge = _Judge(
                snapshot,
                steps.get(snapshot.number),
                was_mended,
                partial(_say_of, say, told),
                found,
            )
            right, anew = judge.judged(stored, before, sound=sound)
            if right is None:
                found.lost += 1
                return found
            if anew or (was_mended and not snapshot.whole):
                snapshot.arrays, snapshot.whole = pack_mesh(right), True
            if anew or snapshot.digest == "" or was_mended:
                snapshot.digest = digest_of(right)
                snapshot.save(update_fields=["arrays", "whole", "digest"])
            found.mended += anew
    return found


def _read(snapshot: Snapshot, before: KeptMesh | None) -> tuple[KeptMesh | None, bool]:
    """The mesh as it is stored, None if it can't be read; and whether it is known to be what was
    made."""
    try:
        kept = stored_mesh(bytes(snapshot.arrays), whole=snapshot.whole, before=before)
    except UNREADABLE:
        return None, False
    return kept, snapshot.digest == digest_of(kept)


@dataclass
class _Judge:
    """Decides what the right mesh of one snapshot is."""

    snapshot: Snapshot
    step: Step | None
    after_mending: bool
    say: Say
    found: Verified

    def judged(
        self, stored: KeptMesh | None, before: KeptMesh | None, *, sound: bool
    ) -> tuple[KeptMesh | None, bool]:
        """The right mesh, None if it is lost, and whether it has to be stored anew."""
        if self.step is None:
            # The first mesh of a part: nothing else tells what it was.
            if stored is not None and (sound or self.snapshot.digest == ""):
                return stored, False
            return self._lost()
        made = None if before is None else _made(before, self.step)
        if stored is not None and made is not None and digest_of(made) == digest_of(stored):
            return stored, False
        if stored is not None and sound:
            return self._stays(
                stored, "it differs from what its steps give today; it is what was made, and stays"
            )
        if stored is not None and self.snapshot.digest == "":
            return self._unsure(stored, made)
        if made is None:
            return self._lost()
        exact = digest_of(made) == self.snapshot.digest
        return self._made_anew(
            made, f"it was damaged{'' if exact else ', and comes out a little different today'}"
        )

    def _unsure(self, stored: KeptMesh, made: KeptMesh | None) -> tuple[KeptMesh, bool]:
        if made is None:
            return self._stays(stored, "the step can't be made again; the mesh stays as it is")
        if self.after_mending or _only_moved(stored, made):
            return self._made_anew(made, "vertices that had been moved were lost")
        return self._stays(
            stored,
            "it differs from what its steps give today; kept by an earlier version, it stays as it is",
        )

    def _stays(self, stored: KeptMesh, words: str) -> tuple[KeptMesh, bool]:
        self.found.differ += 1
        self.say(words)
        return stored, False

    def _made_anew(self, made: KeptMesh, why: str) -> tuple[KeptMesh, bool]:
        self.found.differ += 1
        self.say(f"{why}; made anew from its steps")
        return made, True

    def _lost(self) -> tuple[None, bool]:
        self.say(
            "it can't be read, nor made anew from its steps: it is lost, with what comes after it"
        )
        return None, False


def _made(before: KeptMesh, step: Step) -> KeptMesh | None:
    """What a step gives, None if it can't be made."""
    try:
        return KeptMesh.of(apply_step(before.live(), parse_step(step.params)).mesh)
    except CutError:
        return None


def _only_moved(one: KeptMesh, other: KeptMesh) -> bool:
    """Whether two meshes differ in the places of vertices alone."""
    return all(
        np.array_equal(getattr(one.mesh, name), getattr(other.mesh, name))
        for name in ("starts", "corners", "material", "patch")
    )
