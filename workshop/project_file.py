"""A whole project as one file: an open archive, described in docs/project-file.md.

Reading it is done in a process aside: nothing in it is believed before it is looked at."""

from __future__ import annotations

import io
import json
import zipfile
import zlib
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from cutcore.aiming.placed_sheet import PlacedSheet
from cutcore.errors import FormatError
from cutcore.formats.budget import check_json
from cutcore.geometry.placement import Placement
from cutcore.geometry.units import Unit
from cutcore.outlines.drawn import DrawnOutline
from cutcore.tools.gauge import GaugeParams
from workshop.drawing_shapes import DrawingMarks, DrawingPlacement
from workshop.mesh_arrays import StoredForm, checked_mesh, stored_whole
from workshop.readers import picture_kind

DESCRIPTION = "project.json"
MOST_UNPACKED = 1 << 30
MOST_ENTRIES = 50_000

Name = Annotated[str, Field(max_length=120)]
Path = Annotated[str, Field(min_length=1, max_length=200)]
Count = Annotated[int, Field(ge=0, lt=2**31)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class KeptNote(BaseModel):
    """A note as a report keeps it."""

    code: str
    words: str
    elements: list[Any] = []


class KeptReport(BaseModel):
    """What a step did, as it was told when it was made; further fields are kept as they are."""

    model_config = ConfigDict(extra="allow")

    tool: str
    title: str = ""
    notes: list[KeptNote] = []
    new_vertices: int = 0
    new_edges: int = 0
    quads: int = 0
    made_parts: list[int] = []
    taken_away: list[int] = []


class KeptStep(_Strict):
    """A step: its parameters as in a steps file, and what it did."""

    params: dict[str, Any]
    report: KeptReport


class KeptPart(_Strict):
    """A part: `position` of its steps are applied, the others undone. `states` are the paths of its
    meshes, before its first step and after each, and `digests` what they must come to; `mesh` is
    what it looks like now, for other programs. `number` is what steps of other parts call it."""

    name: Name
    number: Count
    hidden: bool = False
    placement: Placement = Placement()
    position: Count = 0
    steps: list[KeptStep] = []
    states: Annotated[list[Path], Field(min_length=1)]
    digests: list[str]
    mesh: Path


class KeptOutline(_Strict):
    name: Name
    drawn: DrawnOutline
    sheet: PlacedSheet | None = None


class KeptList(_Strict):
    name: Name
    params: GaugeParams


class KeptDrawing(_Strict):
    name: Name
    picture: Path
    placement: DrawingPlacement
    marks: DrawingMarks


class KeptProject(_Strict):
    """All there is to a project but its meshes and pictures, which it names by their paths."""

    wertome_project: Literal[1] = 1
    name: Name
    unit: Unit
    file_unit: Unit
    parts: Annotated[list[KeptPart], Field(max_length=2000)] = []
    outlines: list[KeptOutline] = []
    lists: list[KeptList] = []
    drawings: list[KeptDrawing] = []


@dataclass(frozen=True)
class ReadProject:
    """A project out of a file: of each part its states, of each drawing what kind its picture is
    and its bytes."""

    project: KeptProject
    states: list[list[StoredForm]]
    pictures: list[tuple[str, bytes]]


def packed_project(project: KeptProject, files: dict[str, bytes]) -> bytes:
    """The archive of a project and the files it names."""
    out = io.BytesIO()
    text = project.model_dump_json(indent=1, by_alias=True)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        archive.writestr(DESCRIPTION, text)
        for path, data in files.items():
            # States are compressed already.
            packing = zipfile.ZIP_STORED if path.endswith(".npz") else zipfile.ZIP_DEFLATED
            archive.writestr(path, data, packing)
    return out.getvalue()


def read_project(data: bytes) -> ReadProject:
    """The project in an archive. Raises FormatError, naming the place, if it is none, if a mesh is
    not what its digest says, or if unpacking it would take too much."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            infos = archive.infolist()
            if len(infos) > MOST_ENTRIES or sum(i.file_size for i in infos) > MOST_UNPACKED:
                raise FormatError("the project is too large to be unpacked")
            return _read(archive)
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError) as no:
        raise FormatError("this is no project: the archive can't be read") from no


def _read(archive: zipfile.ZipFile) -> ReadProject:
    text = _entry(archive, DESCRIPTION, "this is no project of ours")
    check_json(text, values=5_000_000, where=DESCRIPTION)
    try:
        json.loads(text)
        project = KeptProject.model_validate_json(text)
    except ValidationError as wrong:
        first = wrong.errors()[0]
        where = ".".join([DESCRIPTION, *(str(part) for part in first["loc"])])
        raise FormatError(str(first["msg"]), where=where) from wrong
    except (ValueError, RecursionError) as no:
        raise FormatError("the description is no JSON", where=DESCRIPTION) from no
    if len({part.number for part in project.parts}) < len(project.parts):
        raise FormatError("two parts have the same number", where=f"{DESCRIPTION}.parts")
    states = [
        _states(archive, part, f"{DESCRIPTION}.parts.{k}") for k, part in enumerate(project.parts)
    ]
    pictures = []
    for drawing in project.drawings:
        picture = _entry(archive, drawing.picture, "a picture is missing")
        pictures.append((picture_kind(picture), picture))
    return ReadProject(project, states, pictures)


def _states(archive: zipfile.ZipFile, part: KeptPart, where: str) -> list[StoredForm]:
    if len(part.states) != len(part.steps) + 1 or len(part.digests) != len(part.states):
        raise FormatError("there must be a mesh before its steps, and one after each", where=where)
    if part.position > len(part.steps):
        raise FormatError("more steps are applied than there are", where=where)
    found = []
    for path, digest in zip(part.states, part.digests, strict=True):
        try:
            stored = stored_whole(checked_mesh(_entry(archive, path, "a mesh is missing")))
        except FormatError as refusal:
            raise refusal.at(path) from refusal
        if stored.digest != digest:
            raise FormatError("the mesh is not what was taken out", where=path)
        found.append(stored)
    return found


def _entry(archive: zipfile.ZipFile, path: str, otherwise: str) -> bytes:
    try:
        return archive.read(path)
    except KeyError:
        raise FormatError(otherwise, where=path) from None
    except RuntimeError as no:
        raise FormatError("the archive is locked", where=path) from no
