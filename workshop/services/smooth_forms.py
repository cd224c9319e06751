"""Smooth forms: those looked at last stay in memory, so that of a changed part only what was touched
is worked out."""

from __future__ import annotations

import threading

import numpy as np
from cachetools import LRUCache

from cutcore import apply_step
from cutcore.previews.smooth_form import Remade, SmoothForm, moves_of, remade, smooth_form
from cutcore.steps.registry import Step
from workshop.services.live_meshes import State, difference_since, mesh_of_state

# Kept in memory at once; the least recently used go first.
ROOM_IN_BYTES = 96 << 20

_lock = threading.Lock()
_kept: LRUCache[str, SmoothForm] = LRUCache(
    ROOM_IN_BYTES, getsizeof=lambda form: min(form.bytes_held, ROOM_IN_BYTES)
)


def whole(form: SmoothForm) -> Remade:
    """A form that nothing is taken over for."""
    return Remade(form, np.arange(len(form.places)), np.zeros((0, 3), dtype=np.int64))


def form_of(state: State, since: State | None = None) -> Remade:
    """The smooth form of a snapshot; as made from that of the one before or after it, if that is in
    memory and the asker has it (`since`)."""
    held = None if since is None else _held(since)
    if held is not None and since is not None:
        kept = _kept_between(state, since)
        if kept is not None:
            made = remade(held, mesh_of_state(since), mesh_of_state(state), kept)
            _keep(state, made.form)
            return made
    form = _held(state) or _keep(state, smooth_form(mesh_of_state(state)))
    return whole(form)


def _kept_between(state: State, since: State) -> np.ndarray | None:
    """The numbers that the faces (F,) of one snapshot have in another, -1 for those it has not; None
    if neither was made from the other by a little change."""
    change = difference_since(state.snapshot, since.snapshot)
    back = None if change else difference_since(since.snapshot, state.snapshot)
    if change is None and back is None:
        return None
    kept = np.arange(mesh_of_state(since).face_count)
    for one in (change, back):
        if one is not None:
            kept[one.replaced] = -1
    # Undone, what had come last goes.
    kept[mesh_of_state(state).face_count :] = -1
    return kept


def planned_form(
    state: State, step: Step, *, moves: bool
) -> tuple[Remade, np.ndarray | None, float]:
    """The smooth form as a step would leave it, made from that of the snapshot; how far each place
    that is worked out anew moves, if that is asked for; and how far any does at most."""
    form, mesh = form_of(state).form, mesh_of_state(state)
    result = apply_step(mesh, step)
    made = remade(form, mesh, result.mesh, result.origin.kept)
    away = moves_of(form, mesh, made)
    return made, away if moves else None, float(away.max(initial=0.0))


def bytes_kept() -> int:
    """How much memory the forms take."""
    return int(_kept.currsize)


def forget_forms() -> None:
    """Drop everything that is kept, as a restart would."""
    with _lock:
        _kept.clear()


def _held(state: State) -> SmoothForm | None:
    with _lock:
        return _kept.get(state.digest)


def _keep(state: State, form: SmoothForm) -> SmoothForm:
    with _lock:
        if state.digest:
            _kept[state.digest] = form
    return form
