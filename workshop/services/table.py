"""The table: parts of a project placed, joined, copied, spread apart, all of which can be undone."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TypeVar

import numpy as np
from django.db import transaction
from django.db.models import Sum
from django.db.models.functions import Length

from cutcore import Mesh, Note
from cutcore.aiming.placed_sheet import PlacedSheet
from cutcore.errors import StepError
from cutcore.formats.scene_part import ScenePart, moved_to
from cutcore.geometry.arrays import Floats
from cutcore.geometry.camera import Camera, Pixel
from cutcore.geometry.placement import Placement, placed_by
from cutcore.mesh.submesh import moved
from cutcore.outlines.drawn import DrawnOutline, flattened
from cutcore.outlines.flat_part import FlatPart, flat_part
from cutcore.outlines.stencils import OfBorder, OfEdges, OfSection, OfSilhouette, stencil_of
from cutcore.progress import come_to
from cutcore.reshape.placing.place import PlaceParams
from cutcore.table.copies import InARow, Mirrored, RoundAnAxis, mirrored_copy, placements_of
from cutcore.table.falling import Fall, fall
from cutcore.table.joined import Joined, bridged, joined
from cutcore.table.seen import Standing, first_seen, vertex_near
from cutcore.table.spread import spread
from cutcore.tool import place_of
from workshop.errors import Stale
from workshop.models import Part, Project, Snapshot
from workshop.services import history
from workshop.services.copying import copy_part
from workshop.services.live_meshes import mesh_of, state_of
from workshop.services.make_cut import Made, make_cut
from workshop.services.outlines import drawn_of, outline_at
from workshop.services.parts import add_part, part_at
from workshop.services.placing import placement_of, stored_placement
from workshop.services.projects import project_at
from workshop.services.touched import touch

# Joined at once, at most: all of them are in memory.
MOST_JOINED = 500
# Bytes that copies of a part may take on the disk.
MOST_COPIED = 1 << 30
# Vertices of other parts are settled on from so many pixels away.
SETTLE_PIXELS = 9.0

Answer = TypeVar("Answer")


def parts_of(project_id: int, numbers: Sequence[int]) -> list[Part]:
    """Parts of a project, each once, in the order they are named. Raises NotThere for one that is not
    there, StepError for one of another project."""
    project = project_at(project_id)
    found = [part_at(number) for number in dict.fromkeys(numbers)]
    for part in found:
        if part.project_id != project.pk:
            raise StepError(f"{part.name} is a part of another project", where="parts")
    return found


def standing(part: Part) -> ScenePart:
    """A part's mesh, and where it stands."""
    return ScenePart(part.name, mesh_of(part), placement_of(part))


def facts_of(part: Part) -> tuple[int, list[list[float]]]:
    """How many faces a part has, and the box (2, 3) round them; read from its mesh where that was
    kept before these were noted."""
    # Lists of parts bring both along.
    faces, box = (part.__dict__.get(name) for name in ("at_faces", "at_box"))
    if faces is not None and box is not None:
        return faces, box
    state = state_of(part)
    faces, box = Snapshot.objects.values_list("faces", "box").get(pk=state.snapshot)
    if faces is None or box is None:
        mesh = mesh_of(part)
        faces, box = mesh.face_count, mesh.box.tolist()
        Snapshot.objects.filter(pk=state.snapshot).update(faces=faces, box=box)
    return faces, box


def middle_of_part(part: Part) -> Floats:
    """Where the middle (3,) of a part's box stands on the table."""
    box = np.array(facts_of(part)[1])
    return placement_of(part).places(box.mean(axis=0)[None])[0]


def place_parts(project_id: int, placements: dict[int, Placement]) -> Project:
    """Put parts somewhere else."""
    with transaction.atomic():
        parts = parts_of(project_id, list(placements))
        placed = {part: placements[part.pk] for part in parts}
        what = parts[0].name if len(parts) == 1 else f"{len(parts)} parts"
        history.note(project_id, f"{what} placed", placed=placed)
    return project_at(project_id)


def make_place_own(part_id: int, revision: int, answer: Callable[[Made], Answer]) -> Answer:
    """Make the place of a part its own: a step moves its mesh there, and it stands at home then.
    Raises NothingTo if it stands at home already."""
    placement = placement_of(part_at(part_id, revision))

    def home(part: Part) -> Placement:
        if placement_of(part) != placement:
            raise Stale("the part was placed elsewhere meanwhile")
        return Placement()

    step = PlaceParams(move=placement.move, turn=placement.turn)
    return make_cut(part_id, revision, step, answer, to_place=home)


def join_parts(
    project_id: int, numbers: list[int], name: str, weld: float | None
) -> tuple[Part, Joined]:
    """Make parts one, as they stand: a new part in their place, which stands at home. Raises
    StepError for fewer than two."""
    parts = parts_of(project_id, numbers)
    if not 2 <= len(parts) <= MOST_JOINED:
        raise StepError(f"from two to {MOST_JOINED} parts can be joined", where="parts")
    come_to("joining")
    done = joined([standing(part) for part in parts], weld)
    return _in_place_of(parts, name or parts[0].name, done.mesh, f"{len(parts)} parts joined"), done


def bridge_parts(
    part_id: int, revision: int, edges: list[int], to: int, steps: int
) -> tuple[Part, Joined]:
    """Make two parts one by a bridge from an opening of the first, given by border edges, to the
    nearest of the second."""
    part = part_at(part_id, revision)
    if to == part_id:
        raise StepError("a bridge goes from one part to another", where="to")
    one, other = parts_of(part.project_id, [part_id, to])
    first = standing(one)
    chosen = np.unique(np.array(edges, dtype=np.int64))
    if len(chosen) and chosen[-1] >= len(first.mesh.edges):
        raise StepError(f"there are {len(first.mesh.edges)} edges", where="edges")
    done = bridged(first, standing(other), chosen, steps)
    words = f"{one.name} bridged to {other.name}"
    return _in_place_of([one, other], one.name, done.mesh, words), done


def _in_place_of(parts: list[Part], name: str, mesh: Mesh, words: str) -> Part:
    """A new part where others were. Raises Stale if one of them has changed, or was placed elsewhere,
    meanwhile."""
    with transaction.atomic():
        for part in parts:
            if part_at(part.pk, part.revision).placement != part.placement:
                raise Stale(f"{part.name} was placed elsewhere meanwhile")
        project = parts[0].project
        made = add_part(project, name, mesh)
        made.order = parts[0].order
        made.save(update_fields=["order"])
        history.note(project.pk, words, made=[made], gone=parts)
    return made


def copy_parts(part_id: int, copies: InARow | RoundAnAxis | Mirrored) -> list[Part]:
    """Copies of a part, with its steps; a mirrored one has none."""
    with transaction.atomic():
        part = part_at(part_id)
        made = []
        if isinstance(copies, Mirrored):
            mesh, placement = mirrored_copy(mesh_of(part), placement_of(part), copies)
            made.append(add_part(part.project, f"{part.name[:108]}, mirrored", mesh, placement))
        else:
            _refuse_too_much(part, copies.count)
            for k, placement in enumerate(placements_of(copies, placement_of(part)), 2):
                copy = copy_part(part, stored_placement(placement))
                copy.name, copy.hidden = f"{part.name[:110]} {k}", False
                copy.save(update_fields=["name", "hidden"])
                made.append(copy)
        many = "a copy" if len(made) == 1 else f"{len(made)} copies"
        history.note(part.project_id, f"{many} of {part.name}", made=made)
    return made


def _refuse_too_much(part: Part, count: int) -> None:
    """Raise StepError if so many copies, each with all steps, would fill the disk."""
    kept = Snapshot.objects.filter(part=part).aggregate(bytes=Sum(Length("arrays")))["bytes"] or 0
    if count * kept > MOST_COPIED:
        at_most = max(MOST_COPIED // kept, 1)
        raise StepError(
            f"so many copies of this part, with its steps, take too much room: {at_most} at most are possible",
            where="count",
        )


def spread_parts(project_id: int, numbers: list[int], by: float) -> Project:
    """Move parts apart for good: each away from the middle of their middles, by so many times its
    distance from there."""
    with transaction.atomic():
        parts = parts_of(project_id, numbers)
        apart = _spread(parts, by)
        placed = {part: apart[part.pk] for part in parts}
        history.note(project_id, f"{len(parts)} parts spread", placed=placed)
    return project_at(project_id)


def stencil_from(
    part_id: int, stencil: OfEdges | OfBorder | OfSection | OfSilhouette, hand_id: int | None
) -> tuple[DrawnOutline, PlacedSheet]:
    """An outline of a part as it stands, and where its sheet stands on the table. The view and the
    plane are in the coordinates of the part in hand; in those of the table without one."""
    part = standing(part_at(part_id))
    hand = Placement() if hand_id is None else placement_of(part_at(hand_id))
    mesh = part.mesh
    if hand_id != part_id:
        mesh = moved_to(part)
        mesh = mesh if hand.at_home else moved(mesh, hand.local(mesh.points))
    lifted = stencil_of(mesh, stencil)
    sheet = PlacedSheet(centre=place_of(lifted.centre), normal=place_of(lifted.normal))
    return lifted.outline, sheet.on_table(hand)


def whose(
    project_id: int,
    hand_id: int,
    camera: Camera,
    pixel: Pixel,
    spread: tuple[list[int], float] | None = None,
) -> int | None:
    """The part that is seen first at a pixel of a view, which is in the coordinates of the part in
    hand; of those that are shown, and that one. Some may be drawn `spread` apart."""
    parts = list(project_at(project_id).parts.all())
    drawn = {part.pk: placement_of(part) for part in parts}
    if spread is not None:
        drawn |= _spread(parts_of(project_id, spread[0]), spread[1])
    shown = (
        Standing(part.pk, drawn[part.pk], np.array(facts_of(part)[1]), partial(mesh_of, part))
        for part in parts
        if not part.hidden or part.pk == hand_id
    )
    return first_seen(shown, drawn.get(hand_id, Placement()), camera, pixel)


def settled_on_others(part: Part, camera: Camera, pixel: Pixel) -> tuple[Pixel, Floats, str] | None:
    """The pixel at which a vertex of another part that is shown is seen, if one is seen near a
    pixel, where it is (3,), and whose; the camera and the place are in the coordinates of the part
    in hand."""
    hand = placement_of(part)
    nearest: tuple[float, Pixel, Floats, str] | None = None
    for other in project_at(part.project_id).parts.all():
        if other.pk == part.pk or other.hidden:
            continue
        away, at, place = vertex_near(mesh_of(other), placement_of(other), hand, camera, pixel)
        if away <= SETTLE_PIXELS and (nearest is None or away < nearest[0]):
            nearest = (away, at, place, other.name)
    return None if nearest is None else nearest[1:]


def part_of_outline(outline_id: int, params: FlatPart) -> tuple[Part, list[str]]:
    """A new part of an outline, standing where that was lifted off, if it was."""
    outline = outline_at(outline_id)
    mesh, notes = flat_part(flattened(drawn_of(outline)), params)
    placement = Placement()
    if outline.sheet is not None:
        sheet = PlacedSheet.model_validate(outline.sheet)
        right, up, normal = sheet.axes()
        placement = placed_by(np.stack([right, up, normal], axis=1), np.array(sheet.centre))
    with transaction.atomic():
        made = add_part(outline.project, outline.name, mesh, placement)
        history.note(outline.project_id, f"{outline.name} made a part", made=[made])
    return made, [note.words for note in notes]


def falling(project_id: int, numbers: list[int], ground: float | None) -> Fall:
    """How parts would fall from where they stand."""
    parts = parts_of(project_id, numbers)
    return fall([moved_to(standing(part)) for part in parts], ground=ground)


def _spread(parts: list[Part], by: float) -> dict[int, Placement]:
    """Where parts stand, by number, once they are moved apart."""
    middles = np.array([middle_of_part(part) for part in parts]).reshape(-1, 3)
    placed = spread([placement_of(part) for part in parts], middles, by)
    return {part.pk: placement for part, placement in zip(parts, placed, strict=True)}


def show_only(project_id: int, numbers: list[int]) -> Project:
    """Show these parts and hide all others."""
    with transaction.atomic():
        project = project_at(project_id)
        parts = Part.objects.filter(project=project, deleted=None)
        parts.exclude(pk__in=numbers).update(hidden=True)
        parts.filter(pk__in=numbers).update(hidden=False)
        touch(project_id)
    return project_at(project_id)


def show_all(project_id: int) -> Project:
    """Show every part."""
    with transaction.atomic():
        Part.objects.filter(project=project_at(project_id), deleted=None).update(hidden=False)
        touch(project_id)
    return project_at(project_id)


def notes_of(done: Joined) -> list[str]:
    """What joining has to say."""
    said: list[Note] = list(done.notes)
    words = [note.words for note in said]
    if done.welded:
        words.insert(0, f"{done.welded} vertices were welded.")
    if done.faces_gone:
        words.append(f"{done.faces_gone} faces that lay on each other went.")
    return words
