"""Parts: finding one, adding, copying, renaming, hiding, deleting and bringing one back."""

from __future__ import annotations

from dataclasses import asdict

from django.db import transaction
from django.db.models import F

from cutcore import Mesh
from cutcore.geometry.placement import Placement
from cutcore.mesh.difference import KeptMesh
from workshop.errors import NotThere, Stale
from workshop.mesh_arrays import StoredForm, stored_whole
from workshop.models import Part, Project, Snapshot
from workshop.services import history
from workshop.services.copying import copy_part
from workshop.services.live_meshes import State, keep, mesh_of, mesh_of_state, note_state
from workshop.services.placing import stored_placement
from workshop.services.touched import touch


def part_at(part_id: int, revision: int | None = None) -> Part:
    """A part that is there. Raises NotThere, or Stale if it is not at the revision the caller
    knows."""
    part = Part.objects.filter(pk=part_id, deleted=None, project__deleted=None).first()
    if part is None:
        raise NotThere("this part was deleted")
    if revision is not None and part.revision != revision:
        raise Stale("the part was changed elsewhere meanwhile")
    return part


def mesh_at(part_id: int, revision: int) -> Mesh:
    """The mesh of a part at a revision, by one lean query: previews ask for it at every move of the
    pointer.

    Raises NotThere, or Stale if the part is not at the revision the caller knows.
    """
    there = Snapshot.objects.filter(
        part=part_id,
        number=F("part__position"),
        part__revision=revision,
        part__deleted=None,
        part__project__deleted=None,
    )
    found = there.values_list("pk", "digest").first()
    return mesh_of(part_at(part_id, revision)) if found is None else mesh_of_state(State(*found))


def add_part(project: Project, name: str, mesh: Mesh, placement: Placement | None = None) -> Part:
    """Add a mesh to a project as its last part, standing where it is said to."""
    stored = stored_whole(KeptMesh.of(mesh))
    with transaction.atomic():
        part = add_stored_part(project, name, stored, placement)
        transaction.on_commit(lambda: keep(stored.digest, mesh), robust=True)
    return part


def begin_part(project: Project, name: str, mesh: Mesh) -> Part:
    """Add a mesh to a project as its last part, which can be undone."""
    with transaction.atomic():
        part = add_part(project, name, mesh)
        history.note(project.pk, f"{part.name} begun", made=[part])
    return part


def add_stored_part(
    project: Project, name: str, stored: StoredForm, placement: Placement | None = None
) -> Part:
    """Add a mesh that is packed already, whole, to a project as its last part."""
    with transaction.atomic():
        last = Part.objects.filter(project=project).order_by("-order").first()
        part = Part.objects.create(
            project=project,
            name=name[:120] or "Part",
            order=last.order + 1 if last else 0,
            placement=stored_placement(placement),
        )
        snapshot = Snapshot.objects.create(part=part, number=0, **asdict(stored))
        note_state(part, State(snapshot.pk, stored.digest))
        touch(project.pk)
    return part


def duplicate_part(part_id: int) -> Part:
    """A copy of a part beside it."""
    with transaction.atomic():
        part = part_at(part_id)
        copy = copy_part(part)
        behind = Part.objects.filter(project=part.project_id, order__gt=part.order)
        behind.update(order=F("order") + 1)
        copy.name, copy.order, copy.hidden = f"{part.name[:112]} (copy)", part.order + 1, False
        copy.save(update_fields=["name", "order", "hidden"])
        history.note(part.project_id, f"{part.name} copied", made=[copy])
    return copy


def change_part(part_id: int, *, name: str | None = None, hidden: bool | None = None) -> Part:
    """Rename a part, or keep it out of sight among the others."""
    with transaction.atomic():
        part = part_at(part_id)
        part.name = (name or "").strip()[:120] or part.name
        part.hidden = part.hidden if hidden is None else hidden
        part.save(update_fields=["name", "hidden"])
        touch(part.project_id)
    return part


def delete_part(part_id: int) -> None:
    """Take a part away; `restore_part` brings it back."""
    with transaction.atomic():
        part = part_at(part_id)
        history.note(part.project_id, f"{part.name} deleted", gone=[part])


def restore_part(part_id: int) -> Part:
    with transaction.atomic():
        part = Part.objects.filter(pk=part_id, project__deleted=None).first()
        if part is None:
            raise NotThere("this part is not there any more")
        if part.deleted is not None:
            history.note(part.project_id, f"{part.name} brought back", made=[part])
            part.refresh_from_db()
    return part
