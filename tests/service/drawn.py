"""A mesh as a browser holds it: read from the bytes the service sends, whole or as changes."""

from __future__ import annotations

import numpy as np


class Drawn:
    """A mesh as a browser holds it, from bytes of either kind."""

    def __init__(self, data: bytes) -> None:
        _, vertices, triangles, edges = np.frombuffer(data, "<u4", 4)
        self.origin = np.frombuffer(data, "<f8", 3, 32)
        at = 56
        self.places = np.frombuffer(data, "<f4", 3 * vertices, at).reshape(-1, 3)
        at += 12 * vertices
        self.triangles = np.frombuffer(data, "<u4", 3 * triangles, at).reshape(-1, 3)
        at += 12 * triangles
        self.owners = np.frombuffer(data, "<u4", triangles, at)
        at += 4 * triangles
        self.edges = np.frombuffer(data, "<u4", 2 * edges, at).reshape(-1, 2)
        self.flags = np.frombuffer(data, "u1", edges, at + 8 * edges)

    def change(self, data: bytes) -> None:
        _, old, new, faces, triangles, changed, further, moves = (
            int(x) for x in np.frombuffer(data, "<u4", 8)
        )
        assert old == len(self.places)
        at = 32
        places = np.frombuffer(data, "<f8", 3 * new, at).reshape(-1, 3) - self.origin
        at += 24 * new
        elsewhere = np.frombuffer(data, "<f8", 3 * moves, at).reshape(-1, 3) - self.origin
        at += 24 * moves
        moved = np.frombuffer(data, "<u4", moves, at)
        at += 4 * moves
        replaced = np.frombuffer(data, "<u4", faces, at)
        at += 4 * faces
        corners = np.frombuffer(data, "<u4", 3 * triangles, at).reshape(-1, 3)
        at += 12 * triangles
        owners = np.frombuffer(data, "<u4", triangles, at)
        at += 4 * triangles
        numbers = np.frombuffer(data, "<u4", changed, at)
        at += 4 * changed
        ends = np.frombuffer(data, "<u4", 2 * (changed + further), at).reshape(-1, 2)
        flags = np.frombuffer(data, "u1", changed + further, at + 8 * (changed + further))
        stays = ~np.isin(self.owners, replaced)
        self.places = np.concatenate([self.places, places.astype(np.float32)])
        self.places[moved] = elsewhere
        self.triangles = np.concatenate([self.triangles[stays], corners])
        self.owners = np.concatenate([self.owners[stays], owners])
        self.edges = np.concatenate([self.edges, ends[changed:]])
        self.flags = np.concatenate([self.flags, flags[changed:]])
        self.edges[numbers], self.flags[numbers] = ends[:changed], flags[:changed]


def assert_drawn_alike(drawn: Drawn, whole: Drawn) -> None:
    """The same places, edges with their flags, and triangles of every face; in whatever order the
    triangles are."""
    size = max(
        1.0,
        float(np.abs(whole.places).max(initial=0.0)),
        float(np.abs(drawn.places).max(initial=0.0)),
    )
    np.testing.assert_allclose(
        drawn.places + drawn.origin, whole.places + whole.origin, atol=1e-6 * size
    )
    np.testing.assert_array_equal(drawn.edges, whole.edges)
    np.testing.assert_array_equal(drawn.flags, whole.flags)
    alike = [
        sorted(map(tuple, np.column_stack([one.owners, one.triangles]).astype(int).tolist()))
        for one in (drawn, whole)
    ]
    assert alike[0] == alike[1], "the triangles differ"
