"""Meshes that are kept, by the number of their snapshot."""

from __future__ import annotations

from cutcore import Mesh
from workshop.services.live_meshes import mesh_of_state, states_of


def mesh_of_number(snapshot: int) -> Mesh:
    return mesh_of_state(states_of((snapshot,))[0])
