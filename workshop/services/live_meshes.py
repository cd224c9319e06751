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
from workshop.mesh_arrays import unpack_mesh
from workshop.models import Part, Snapshot

# Kept in memory at once; counted in corners, about 300 bytes each with everything derived.
ROOM_IN_CORNERS = 8_000_000
SHOWN_KEPT = 8

_lock = threading.Lock()
_kept: OrderedDict[int, Mesh] = OrderedDict()
_shown: OrderedDict[tuple[int, int], Shown] = OrderedDict()


def snapshot_of(part: Part) -> int:
    """The number of the snapshot a part is at."""
    found = Snapshot.objects.filter(part=part, number=part.position).values_list("pk", flat=True).first()
    if found is None:
        raise NotThere("this state of the part is not there any more")
    return int(found)


def mesh_of(part: Part) -> Mesh:
    """The mesh of a part as it stands."""
    return mesh_of_snapshot(snapshot_of(part))


def mesh_of_snapshot(snapshot: int) -> Mesh:
    """The mesh of one snapshot, read on first use."""
    with _lock:
        if snapshot in _kept:
            _kept.move_to_end(snapshot)
            return _kept[snapshot]
    data = Snapshot.objects.filter(pk=snapshot).values_list("arrays", flat=True).first()
    if data is None:
        raise NotThere("this state of the part is not there any more")
    return keep(snapshot, unpack_mesh(bytes(data)))


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
