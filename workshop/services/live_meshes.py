"""Live meshes: those in use stay in memory with all that was derived from them (edges, ray caster).

Snapshots are never changed once written, so a mesh may be kept as long as there is room.
"""

from __future__ import annotations

import threading
from collections import OrderedDict

import numpy as np

from cutcore import Mesh
from cutcore.rays import Shown
from workshop.errors import NotThere
from workshop.mesh_arrays import unpack_difference, unpack_mesh
from workshop.mesh_difference import MeshDifference, applied
from workshop.models import Part, Snapshot

# Kept in memory at once; counted in corners, about 300 bytes each with everything derived.
ROOM_IN_CORNERS = 8_000_000
SHOWN_KEPT = 8

_lock = threading.Lock()
_kept: OrderedDict[int, Mesh] = OrderedDict()
_shown: OrderedDict[tuple[int, int], Shown] = OrderedDict()


def snapshot_of(part: Part) -> int:
    """The number of the snapshot a part is at; asked of the database once for a part as it was read."""
    known: tuple[int, int] | None = part.__dict__.get("_snapshot")
    if known is not None and known[0] == part.position:
        return known[1]
    found = Snapshot.objects.filter(part=part, number=part.position).values_list("pk", flat=True).first()
    if found is None:
        raise NotThere("this state of the part is not there any more")
    note_snapshot(part, int(found))
    return int(found)


def note_snapshot(part: Part, snapshot: int) -> None:
    """Remember which snapshot a part is at."""
    part.__dict__["_snapshot"] = (part.position, snapshot)


def mesh_of(part: Part) -> Mesh:
    """The mesh of a part as it stands."""
    return mesh_of_snapshot(snapshot_of(part))


def mesh_of_snapshot(snapshot: int) -> Mesh:
    """The mesh of one snapshot, read on first use."""
    with _lock:
        if snapshot in _kept:
            _kept.move_to_end(snapshot)
            return _kept[snapshot]
    found = Snapshot.objects.filter(pk=snapshot).first()
    if found is None:
        raise NotThere("this state of the part is not there any more")
    if found.whole:
        return keep(snapshot, unpack_mesh(bytes(found.arrays)))
    return keep(snapshot, applied(mesh_of_snapshot(_before(found)), unpack_difference(bytes(found.arrays))))


def difference_since(snapshot: int, since: int) -> MeshDifference | None:
    """What a snapshot changed in the one before it, if that is the one named and it was not kept whole."""
    found = Snapshot.objects.filter(pk=snapshot, whole=False).first()
    return unpack_difference(bytes(found.arrays)) if found is not None and _before(found) == since else None


def _before(snapshot: Snapshot) -> int:
    """The number of the snapshot that another was cut from."""
    return int(Snapshot.objects.values_list("pk", flat=True).get(part=snapshot.part_id, number=snapshot.number - 1))


def shown_of(mesh: Mesh, faces: tuple[int, ...] | None) -> Shown | None:
    """The faces of a part that are shown, ready for rays; None for all. The last few are kept."""
    if faces is None:
        return None
    # What is kept holds on to its mesh, so that the number stays that mesh's own.
    key = (id(mesh), hash(faces))
    with _lock:
        if key in _shown:
            _shown.move_to_end(key)
            return _shown[key]
    inside = np.array([f for f in faces if 0 <= f < mesh.face_count], dtype=np.int64)
    made = Shown(mesh, np.unique(inside))
    with _lock:
        _shown[key] = made
        while len(_shown) > SHOWN_KEPT:
            _shown.popitem(last=False)
    return made


def keep(snapshot: int, mesh: Mesh) -> Mesh:
    """Keep a mesh under its snapshot; of two made at the same time the first one stays."""
    with _lock:
        mesh = _kept.setdefault(snapshot, mesh)
        _kept.move_to_end(snapshot)
        room = ROOM_IN_CORNERS - sum(len(m.corners) for m in _kept.values())
        while room < 0 and len(_kept) > 1:
            room += len(_kept.popitem(last=False)[1].corners)
    return mesh


def forget_all() -> None:
    """Drop everything that is kept, as a restart would."""
    with _lock:
        _kept.clear()
        _shown.clear()
