"""Live meshes: those in use stay in memory with all that was derived from them (edges, ray caster).

A mesh is kept under the digest of its arrays, never under a number: numbers of rows that were
rolled back are used again."""

from __future__ import annotations

import threading
import zipfile
import zlib
from dataclasses import dataclass

import numpy as np
import xxhash
from cachetools import LRUCache

from cutcore import Mesh
from cutcore.mesh.difference import KeptMesh, MeshDifference, applied
from cutcore.mesh.memory import bytes_held
from cutcore.queries.ray_caster import Shown
from workshop.errors import Damaged, NotThere
from workshop.mesh_arrays import digest_of, unpack_difference, unpack_mesh
from workshop.models import Part, Snapshot

# Kept in memory at once, with everything derived; a mesh in use that is larger is kept alone.
ROOM_IN_BYTES = 400 << 20
SHOWN_KEPT = 3


def room_for(room: int) -> LRUCache[str, Mesh]:
    """A cache of meshes that holds so many bytes, the least recently used go first."""
    return LRUCache(room, getsizeof=lambda mesh: min(bytes_held(mesh), room))


_lock = threading.Lock()
_kept = room_for(ROOM_IN_BYTES)


@dataclass(frozen=True)
class State:
    """Which snapshot a part is at: its number, and the digest of its mesh."""

    snapshot: int
    digest: str


def state_of(part: Part) -> State:
    """The snapshot a part is at; asked of the database once for a part as it was read."""
    known: tuple[int, State] | None = part.__dict__.get("_stands_at")
    if known is not None and known[0] == part.position:
        return known[1]
    # Lists of parts bring it along; a part that was read alone asks.
    found = (part.__dict__.pop("at_snapshot", None), part.__dict__.pop("at_digest", None))
    if found[0] is None:
        asked = (
            Snapshot.objects.filter(part=part, number=part.position)
            .values_list("pk", "digest")
            .first()
        )
        found = asked or found
    if found[0] is None:
        raise NotThere("this state of the part is not there any more")
    return note_state(part, State(int(found[0]), str(found[1])))


def note_state(part: Part, state: State) -> State:
    """Remember which snapshot a part is at."""
    part.__dict__["_stands_at"] = (part.position, state)
    return state


def mesh_of(part: Part) -> Mesh:
    """The mesh of a part as it stands. Raises Damaged if what is stored is not what was made."""
    return mesh_of_state(state_of(part))


def mesh_of_state(state: State) -> Mesh:
    """The mesh of one snapshot, read on first use. Raises NotThere or Damaged."""
    return _live(state.digest) or keep(state.digest, read_kept(state.snapshot).live())


def states_of(snapshots: tuple[int, ...]) -> list[State]:
    """Snapshots by number. Raises NotThere if one is not there."""
    found = dict(Snapshot.objects.filter(pk__in=snapshots).values_list("pk", "digest"))
    if not found.keys() >= set(snapshots):
        raise NotThere("this state of the part is not there any more")
    return [State(snapshot, found[snapshot]) for snapshot in snapshots]


def state_since(snapshot: int, since: int | None) -> tuple[State, State | None]:
    """A snapshot, and the one that the asker has of it, if that is still there: undone and cut over,
    or deleted with its part, it is of no use. Raises NotThere."""
    (state,) = states_of((snapshot,))
    if since is None:
        return state, None
    try:
        return state, states_of((since,))[0]
    except NotThere:
        return state, None


def read_kept(snapshot: int) -> KeptMesh:
    """The mesh of a snapshot as it is stored. Raises NotThere, or Damaged if it is not what its
    digest says."""
    found = Snapshot.objects.filter(pk=snapshot).first()
    if found is None:
        raise NotThere("this state of the part is not there any more")
    # From the snapshot backwards to one that is whole, or that is live.
    changes: list[bytes] = []
    back = Snapshot.objects.filter(part=found.part_id, number__lte=found.number).order_by("-number")
    kept: KeptMesh | None = None
    try:
        for digest, whole, arrays in back.values_list("digest", "whole", "arrays").iterator(
            chunk_size=4
        ):
            mesh = _live(digest)
            if mesh is not None or whole:
                kept = stored_mesh(bytes(arrays), whole=True) if mesh is None else KeptMesh.of(mesh)
                break
            changes.append(bytes(arrays))
        if kept is None:
            raise ValueError("no snapshot is whole")
        for change in reversed(changes):
            kept = stored_mesh(change, whole=False, before=kept)
        right = found.digest in ("", digest_of(kept))
    except UNREADABLE as trouble:
        raise Damaged(f"what is stored of step {found.number} can't be read") from trouble
    if not right:
        raise Damaged(f"what is stored of step {found.number} is not what was made")
    return kept


# What reading damaged bytes may end in.
UNREADABLE = (
    ValueError,
    KeyError,
    TypeError,
    IndexError,
    OSError,
    EOFError,
    zipfile.BadZipFile,
    zlib.error,
)


def stored_mesh(arrays: bytes, *, whole: bool, before: KeptMesh | None = None) -> KeptMesh:
    """The mesh that some bytes hold, in full or as what changed in the one before. Raises one of
    UNREADABLE."""
    if whole:
        return unpack_mesh(arrays)
    if before is None:
        raise ValueError("what it changed is not there")
    return applied(before, unpack_difference(arrays))


def difference_since(snapshot: int, since: int) -> MeshDifference | None:
    """What a snapshot changed in the one before it, if that is the one named and it was not kept
    whole."""
    found = Snapshot.objects.filter(pk=snapshot, whole=False).first()
    if found is None:
        return None
    before = Snapshot.objects.values_list("pk", flat=True).get(
        part=found.part_id, number=found.number - 1
    )
    return unpack_difference(bytes(found.arrays)) if before == since else None


def shown_of(mesh: Mesh, faces: tuple[int, ...] | None) -> Shown | None:
    """The faces of a part that are shown, ready for rays; None for all. The last few are kept with
    the mesh."""
    if faces is None:
        return None
    inside = np.unique(np.array([f for f in faces if 0 <= f < mesh.face_count], dtype=np.int64))
    kept: LRUCache[str, Shown] = mesh.held("_shown", lambda _: LRUCache(SHOWN_KEPT))
    key = xxhash.xxh3_128_hexdigest(inside.data)
    with _lock:
        if key in kept:
            return kept[key]
    made = Shown(mesh, inside)
    with _lock:
        kept[key] = made
    return made


def keep(digest: str, mesh: Mesh) -> Mesh:
    """Keep a mesh under its digest; of two made at the same time the first one stays."""
    if not digest:
        return mesh
    with _lock:
        mesh = _kept.get(digest, mesh)
        _kept[digest] = mesh
    return mesh


def bytes_kept() -> int:
    """How much memory the live meshes take."""
    return int(_kept.currsize)


def forget_all() -> None:
    """Drop everything that is kept, as a restart would."""
    with _lock:
        _kept.clear()


def _live(digest: str) -> Mesh | None:
    with _lock:
        mesh: Mesh | None = _kept.get(digest) if digest else None
        if mesh is not None:
            # Put there again: it may hold on to more by now.
            _kept[digest] = mesh
    return mesh
