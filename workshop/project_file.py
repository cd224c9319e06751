"""A whole project as one file: an open archive, described in docs/project-file.md.

Reading it is done in a process aside: nothing in it is believed before it is looked at. What is to
be kept of it is written to a spool, a file that is no longer than the archive allows for."""

from __future__ import annotations

import zipfile
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, BinaryIO, Literal

from pydantic import BaseModel, ConfigDict, Field, JsonValue, ValidationError, model_validator
from pydantic_core import from_json

from cutcore.aiming.placed_sheet import PlacedSheet
from cutcore.errors import CutError, FormatError, StepError
from cutcore.formats.budget import check_json
from cutcore.geometry.placement import Placement
from cutcore.geometry.units import Unit
from cutcore.mesh.difference import KeptMesh
from cutcore.outlines.drawn import DrawnOutline
from cutcore.steps.steps_file import parse_step
from cutcore.tools.gauge import GaugeParams
from workshop.drawing_shapes import DrawingMarks, DrawingPlacement
from workshop.mesh_arrays import (
    StoredForm,
    checked_difference,
    checked_mesh,
    digest_of,
    stored_as,
    stored_whole,
)
from workshop.readers import picture_kind

DESCRIPTION = "project.json"
MOST_ENTRIES = 100_000
# What is kept of a file is at most so many times its length, and a little.
MOST_TIMES = 4
A_LITTLE = 16 << 20
# Of one entry so much is in memory at a time.
MOST_IN_MEMORY = 256 << 20

Name = Annotated[str, Field(max_length=120)]
Words = Annotated[str, Field(max_length=4000)]
Place = Annotated[str, Field(min_length=1, max_length=200)]
Count = Annotated[int, Field(ge=0, lt=2**31)]
Change = Annotated[int, Field(gt=-(2**31), lt=2**31)]
Number = Annotated[int, Field(ge=0, lt=2**53)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class KeptNote(_Strict):
    """A note as a report keeps it."""

    code: Annotated[str, Field(max_length=80)]
    words: Words
    elements: list[dict[str, JsonValue]] = []


class KeptReport(_Strict):
    """What a step did, as it was told when it was made. `names` is what the part was called before
    and after it. `made_parts`, `taken_away` and `own_place` are told by files of version 1, where
    there is no order of what was done."""

    tool: Annotated[str, Field(max_length=80)]
    title: Words = ""
    notes: list[KeptNote] = []
    new_vertices: Change = 0
    new_edges: Change = 0
    quads: Change = 0
    faces: dict[Literal["before", "after"], Count] = {}
    picked: list[Number] = []
    names: tuple[Name, Name] | None = None
    made_parts: list[Number] = []
    taken_away: list[Number] = []
    own_place: Placement | None = None


class KeptStep(_Strict):
    """A step: its parameters as in a steps file, and what it did."""

    params: dict[str, JsonValue]
    report: KeptReport

    @model_validator(mode="after")
    def _can_be_told(self) -> KeptStep:
        try:
            parse_step(self.params)
        except StepError as no:
            # An earlier version may have taken what is refused today: it is kept, if it says what it
            # was.
            if not isinstance(self.params.get("tool"), str) or not self.report.title:
                raise ValueError(no.words) from no
        return self


class KeptPart(_Strict):
    """A part: `position` of its steps are applied, the others undone. `states` are the paths of its
    meshes, before its first step and after each: those that are not `whole` hold what changed in the
    one before. `digests` are what the meshes must come to; `mesh` is what the part looks like now,
    for other programs. `number` is what entries call it. A part that is `away` is not there now; an
    entry may bring it back."""

    name: Name
    number: Number
    hidden: bool = False
    away: bool = False
    placement: Placement = Placement()
    position: Count = 0
    steps: list[KeptStep] = []
    states: Annotated[list[Place], Field(min_length=1)]
    whole: list[bool] | None = None
    digests: list[str]
    mesh: Place | None = None

    @model_validator(mode="after")
    def _has_all_states(self) -> KeptPart:
        counts = {len(self.states), len(self.digests), len(self.steps) + 1}
        if len(counts | ({len(self.whole)} if self.whole is not None else set())) > 1:
            raise ValueError("there must be a mesh before its steps, and one after each")
        if self.position > len(self.steps):
            raise ValueError("more steps are applied than there are")
        return self


class KeptEntry(_Strict):
    """Something that was done, parts by number: a step of one, parts that came, parts that went,
    where parts stood before and after; `undone` as it is kept."""

    words: Annotated[str, Field(max_length=200)]
    part: Number | None = None
    number: Count | None = None
    made: list[Number] = []
    gone: list[Number] = []
    placed: dict[str, tuple[Placement, Placement]] = {}
    undone: Count = 0

    def named(self) -> set[int]:
        """The numbers of all parts that it tells of."""
        own = set() if self.part is None else {self.part}
        return {*self.made, *self.gone, *map(int, self.placed)} | own


class KeptOutline(_Strict):
    name: Name
    drawn: DrawnOutline
    sheet: PlacedSheet | None = None


class KeptList(_Strict):
    name: Name
    params: GaugeParams


class KeptDrawing(_Strict):
    name: Name
    picture: Place
    placement: DrawingPlacement
    marks: DrawingMarks


class KeptProject(_Strict):
    """All there is to a project but its meshes and pictures, which it names by their paths.
    `entries` are the order of what was done in it; a file of version 1 has none."""

    wertome_project: Literal[1, 2] = 2
    name: Name
    unit: Unit
    file_unit: Unit
    parts: Annotated[list[KeptPart], Field(max_length=5000)] = []
    entries: list[KeptEntry] | None = None
    outlines: list[KeptOutline] = []
    lists: list[KeptList] = []
    drawings: list[KeptDrawing] = []

    @model_validator(mode="after")
    def _is_of_one_piece(self) -> KeptProject:
        parts = {part.number: part for part in self.parts}
        if len(parts) < len(self.parts):
            raise ValueError("two parts have the same number")
        steps = {(part.number, k) for part in self.parts for k in range(1, len(part.steps) + 1)}
        for entry in self.entries or []:
            if not all(key.isdecimal() for key in entry.placed) or entry.named() - parts.keys():
                raise ValueError("an entry tells of a part that is not there")
            if (entry.part is None) != (entry.number is None):
                raise ValueError("an entry of a step names its part and its number")
            if entry.part is not None:
                step = (entry.part, entry.number or 0)
                if step not in steps:
                    raise ValueError("an entry tells of a step that is not there, or twice of one")
                steps.remove(step)
                if (entry.undone == 0) != (step[1] <= parts[entry.part].position):
                    raise ValueError("an entry says of a step that is applied that it is undone")
        if self.entries is not None and steps:
            raise ValueError("a step is missing among the entries")
        return self


@dataclass(frozen=True)
class Spooled:
    """Bytes in a spool: where they begin, and how many they are."""

    at: int
    size: int


@dataclass(frozen=True)
class ReadProject:
    """A project out of a file: of each part its states, without their bytes, which are in the spool;
    of each drawing what kind its picture is."""

    project: KeptProject
    states: list[list[tuple[StoredForm, Spooled]]]
    pictures: list[tuple[str, Spooled]]


def write_project(out: BinaryIO, files: Iterable[tuple[str, bytes]], project: KeptProject) -> None:
    """Write the archive of a project: the files that it names, one after the other, then what is said
    of them, which may come to be known on the way."""
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for path, data in files:
            # States are compressed already.
            packing = zipfile.ZIP_STORED if path.endswith(".npz") else zipfile.ZIP_DEFLATED
            archive.writestr(path, data, packing)
        archive.writestr(DESCRIPTION, project.model_dump_json(indent=1, by_alias=True))


def read_project(path: str, spool: str) -> ReadProject:
    """The project in an archive; what is to be kept of it is written to a spool. Raises FormatError,
    naming the place, if it is none, if a mesh is not what its digest says, or if it would unpack to
    far more than it is."""
    try:
        with zipfile.ZipFile(path) as archive, Path(spool).open("wb") as out:
            if len(archive.infolist()) > MOST_ENTRIES:
                raise FormatError("the project is too large to be unpacked")
            size = Path(path).stat().st_size
            return _Reading(archive, out, MOST_TIMES * size + A_LITTLE).read()
    except CutError:
        raise
    except MemoryError:
        raise
    except Exception as no:
        # Whatever a broken archive makes of the library that reads it.
        raise FormatError("this is no project: the archive can't be read") from no


@dataclass
class _Reading:
    archive: zipfile.ZipFile
    spool: BinaryIO
    left: int

    def read(self) -> ReadProject:
        text = self._entry(DESCRIPTION, "this is no project of ours")
        check_json(text, values=5_000_000, where=DESCRIPTION)
        try:
            project = KeptProject.model_validate(from_json(text, allow_inf_nan=False))
        except ValidationError as wrong:
            first = wrong.errors()[0]
            where = ".".join([DESCRIPTION, *(str(part) for part in first["loc"])])
            raise FormatError(str(first["msg"])[:400], where=where[:400]) from wrong
        except (ValueError, RecursionError) as no:
            raise FormatError("the description is no JSON", where=DESCRIPTION) from no
        states = [self._states(part) for part in project.parts]
        pictures = []
        for drawing in project.drawings:
            picture = self._entry(drawing.picture, "a picture is missing")
            pictures.append((picture_kind(picture), self._spooled(picture)))
        return ReadProject(project, states, pictures)

    def _states(self, part: KeptPart) -> list[tuple[StoredForm, Spooled]]:
        found = []
        before: KeptMesh | None = None
        whole = part.whole or [True] * len(part.states)
        for path, digest, is_whole in zip(part.states, part.digests, whole, strict=True):
            data = self._entry(path, "a mesh is missing")
            try:
                stored, before = _stored(data, before, whole=is_whole)
            except FormatError as refusal:
                raise refusal.at(path) from refusal
            if stored.digest != digest:
                raise FormatError("the mesh is not what was taken out", where=path)
            found.append((StoredForm(b"", *_told(stored)), self._spooled(stored.arrays)))
            before = before.bare()
        return found

    def _entry(self, path: str, otherwise: str) -> bytes:
        try:
            info = self.archive.getinfo(path)
        except KeyError:
            raise FormatError(otherwise, where=path) from None
        if info.file_size > MOST_IN_MEMORY:
            raise FormatError("an entry of the archive is too large", where=path)
        if info.flag_bits & 1:
            raise FormatError("the archive is locked", where=path)
        try:
            with self.archive.open(info) as entry:
                data = entry.read(MOST_IN_MEMORY + 1)
        except MemoryError:
            raise
        except Exception as no:
            raise FormatError("an entry of the archive can't be read", where=path) from no
        if len(data) > MOST_IN_MEMORY:
            raise FormatError("an entry of the archive is too large", where=path)
        return data

    def _spooled(self, data: bytes) -> Spooled:
        self.left -= len(data)
        if self.left < 0:
            raise FormatError(
                f"it would take more than {MOST_TIMES} times its length in the data folder"
            )
        at = self.spool.tell()
        self.spool.write(data)
        return Spooled(at, len(data))


def _told(stored: StoredForm) -> tuple[bool, str, int, list[list[float]]]:
    return stored.whole, stored.digest, stored.faces, stored.box


def _stored(data: bytes, before: KeptMesh | None, *, whole: bool) -> tuple[StoredForm, KeptMesh]:
    """How a state is kept, and its mesh. Raises FormatError."""
    if whole:
        kept = checked_mesh(data)
        return stored_whole(kept), kept
    if before is None:
        raise FormatError("the first mesh of a part must be whole")
    packed, kept = checked_difference(before, data)
    return stored_as(packed, False, digest_of(kept), kept.mesh), kept
