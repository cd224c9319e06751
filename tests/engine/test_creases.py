"""Creases and hard edges through everything that is done to a part, and out and in of files."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from cutcore import CutError, FormatError, Mesh, apply_step, parse_step, read_part, write_part
from cutcore.mesh.creases import strengths_of
from cutcore.mesh.difference import KeptMesh, applied
from cutcore.mesh.together import together
from cutcore.previews.shaded import shaded
from cutcore.shapes.box import box
from cutcore.shapes.sheet import sheet
from cutcore.shapes.torus import torus
from cutcore.shapes.turned import turned
from tests.zoo import painted
from workshop.mesh_arrays import digest_of, pack_mesh, unpack_difference, unpack_mesh
from workshop.services.make_cut import stored_form


def creased(mesh: Mesh, every: int = 3) -> Mesh:
    """A mesh with edges of many strengths, some fully hard."""
    hard = painted(mesh, every=every)
    return replace(hard, strength=0.25 + 0.25 * (np.arange(len(hard.hard)) % 4))


def measure(mesh: Mesh) -> dict[float, float]:
    """How long the edges of each strength are together."""
    sharp = mesh.edge_data.strength
    size = np.linalg.norm(np.diff(mesh.points[mesh.hard], axis=1)[:, 0], axis=1)
    return {s: round(float(size[sharp == s].sum()), 9) for s in np.unique(sharp).tolist()}


def rims() -> Mesh:
    tube = turned([(1.0, 0.0), (1.0, 1.0), (1.0, 2.0)], 12)
    return apply_step(tube, parse_step({"tool": "hard edges", "degrees": 40})).mesh


class Creases(SimpleTestCase):
    def test_edges_are_made_creases_and_hard_and_soft_again(self) -> None:
        cube = box(2, 2, 2, (2, 2, 2))
        edges = cube.edges.ends[:3].tolist()
        crease = {"tool": "hard edges", "edges": edges, "to": "crease", "strength": 0.4}
        made = apply_step(cube, parse_step(crease)).mesh
        self.assertEqual(sorted(strengths_of(made))[-4:], [0.0, 0.4, 0.4, 0.4])
        # A crease is shaded soft: the surface goes on over it.
        self.assertEqual(len(shaded(made).places), len(shaded(cube).places))
        hard = apply_step(made, parse_step({"tool": "hard edges", "edges": edges[:1]})).mesh
        self.assertEqual(sorted(strengths_of(hard))[-4:], [0.0, 0.4, 0.4, 1.0])
        soft = apply_step(hard, parse_step({"tool": "hard edges", "degrees": 0, "to": "soft"})).mesh
        flat = strengths_of(soft)
        self.assertLessEqual(int((flat > 0).sum()), 3)
        for wrong in (0.0, 1.0, 1.5):
            with self.assertRaises(CutError):
                parse_step({**crease, "strength": wrong})

    @settings(max_examples=30)
    @given(st.integers(0, 10_000))
    def test_cuts_hand_strengths_to_the_parts_of_what_they_split(self, seed) -> None:
        source = np.random.default_rng(seed)
        mesh = creased(
            (torus(3.0, 1.0, 9, 7), sheet(4, 3, 4, 3), box(2, 2, 2, (3, 3, 3)))[seed % 3]
        )
        steps = [
            {
                "tool": "slice",
                "plane": {"point": source.uniform(-0.3, 0.3, 3).tolist(), "normal": [0.3, 1, 0.7]},
            },
            {
                "tool": "loop",
                "edge": mesh.edges.ends[seed % len(mesh.edges)].tolist(),
                "at": [0.3, 0.6],
            },
            {"tool": "triangulate"},
        ]
        for step in steps:
            try:
                made = apply_step(mesh, parse_step(step)).mesh
            except CutError:
                continue
            self.assertEqual(measure(made), measure(mesh), step["tool"])

    def test_they_are_kept_as_a_whole_and_as_what_changed(self) -> None:
        mesh = creased(torus(3.0, 1.0, 40, 24))
        again = unpack_mesh(pack_mesh(KeptMesh.of(mesh)))
        self.assertEqual(digest_of(again), digest_of(KeptMesh.of(mesh)))
        assert again.mesh.strength is not None
        plain = painted(torus(3.0, 1.0, 40, 24), every=3)
        self.assertNotEqual(digest_of(KeptMesh.of(plain)), digest_of(KeptMesh.of(mesh)))
        loop = {"tool": "loop", "edge": mesh.edges.ends[40].tolist(), "at": [0.5]}
        soft = {
            "tool": "hard edges",
            "edges": mesh.hard[1:2].tolist(),
            "to": "crease",
            "strength": 0.9,
        }
        wholly = {"tool": "hard edges", "edges": mesh.hard.tolist()}
        for step in (loop, soft, wholly):
            result = apply_step(mesh, parse_step(step))
            stored = stored_form(mesh, result)
            self.assertFalse(stored.whole, step["tool"])
            read = applied(KeptMesh.of(mesh), unpack_difference(stored.arrays)).mesh
            self.assertEqual(measure(read), measure(result.mesh))
        self.assertIsNone(result.mesh.strength)

    def test_new_edges_are_hard_where_the_surface_bends_by_more_than_is_said(self) -> None:
        tube = turned([(1.0, 0.0), (1.0, 2.0)], 8)
        ring = np.flatnonzero(tube.points[:, 1] == 0.0)
        edge = next(e for e in tube.edges.ends.tolist() if set(e) <= set(ring.tolist()))
        loop = {"tool": "loop", "edge": edge, "at": [0.5], "follow": 1.0}
        for above, hard in ((None, 0), (20.0, 1), (23.0, 0)):
            made = apply_step(tube, parse_step({**loop, "hard_above": above})).mesh
            self.assertEqual(len(made.hard), hard)
        # Beside what is hard already, and of whatever strength that is.
        marked = creased(tube, every=2)
        made = apply_step(marked, parse_step({**loop, "hard_above": 20.0})).mesh
        assert made.strength is not None
        both_new = (made.hard >= tube.vertex_count).all(axis=1)
        self.assertEqual(made.strength[both_new].tolist(), [1.0])
        self.assertEqual(set(made.strength.tolist()), set(marked.strength.tolist()) | {1.0})  # type: ignore[union-attr]

    def test_parts_joined_keep_theirs(self) -> None:
        one, other = creased(sheet(2, 2, 2, 2)), painted(box(1, 1, 1), every=2)
        both = together([one, other])
        assert both.strength is not None
        self.assertEqual(len(both.hard), len(one.hard) + len(other.hard))
        self.assertEqual((both.strength[len(one.hard) :] == 1.0).all(), True)


class Files(SimpleTestCase):
    def test_hard_edges_and_creases_come_back_from_every_format_with_polygons(self) -> None:
        for name in ("a.obj", "a.ply", "a.glb"):
            for mesh in (rims(), creased(box(2, 2, 2, (2, 2, 2))), creased(sheet(3, 3, 3, 3), 2)):
                read, notes = read_part(name, write_part(name, mesh))
                self.assertEqual(notes, ())
                np.testing.assert_array_equal(read.hard, mesh.hard)
                self.assertEqual(measure(read), measure(mesh))

    def test_other_programs_get_smoothing_groups_and_normals(self) -> None:
        tube = rims()
        lines = write_part("a.obj", tube).decode().splitlines()
        groups = [line for line in lines if line.startswith("s ")]
        self.assertEqual(len(groups), 4, "two caps and a wall, and off at the end")
        bare = "\n".join(line for line in lines if not line.startswith("#")).encode()
        self.assertEqual(read_part("a.obj", bare)[0].hard.tolist(), tube.hard.tolist())
        header = write_part("a.ply", tube).split(b"end_header")[0].decode()
        self.assertIn("property double nx", header)
        # Nothing is said of normals where nobody has said what is hard.
        plain = box(2, 2, 2)
        self.assertNotIn(b"nx", write_part("a.ply", plain).split(b"end_header")[0])
        self.assertNotIn(b"\ns ", write_part("a.obj", plain))
        self.assertNotIn(b"NORMAL", write_part("a.glb", plain))

    def foreign(self, mesh: Mesh) -> bytes:
        """A glb file as another program would write it: triangles and normals only."""
        data = write_part("a.glb", mesh)
        size = int(np.frombuffer(data, "<u4", 1, 12)[0])
        gltf = json.loads(data[20 : 20 + size])
        for one in gltf["meshes"]:
            del one["extras"]
        text = json.dumps(gltf).encode()
        text += b" " * (-len(text) % 4)
        rest = data[20 + size :]
        head = np.array([0x46546C67, 2, 20 + len(text) + len(rest), len(text), 0x4E4F534A], "<u4")
        return head.tobytes() + text + rest

    def test_normals_of_others_tell_what_is_hard_unless_all_is_in_facets(self) -> None:
        tube = rims()
        read, _ = read_part("a.glb", self.foreign(tube))
        places = {tuple(p) for p in tube.points[tube.hard].reshape(-1, 3).round(5).tolist()}
        found = {tuple(p) for p in read.points[read.hard].reshape(-1, 3).round(5).tolist()}
        self.assertEqual(found, places)
        self.assertEqual(len(read.hard), len(tube.hard))
        cube = box(2, 2, 2)
        facets = replace(cube, hard=cube.edges.ends)
        self.assertEqual(len(read_part("a.glb", self.foreign(facets))[0].hard), 0)

    def test_smoothing_groups_of_others(self) -> None:
        cube = write_part("a.obj", box(2, 2, 2)).decode().splitlines()
        places = [line for line in cube if line.startswith("v ")]
        faces = [line for line in cube if line.startswith("f ")]

        def hard(*lines: str) -> int:
            return len(read_part("a.obj", "\n".join([*places, *lines]).encode())[0].hard)

        self.assertEqual(hard(*faces), 0)
        self.assertEqual(hard("s off", *faces), 0)
        self.assertEqual(hard("s 1", *faces), 0)
        self.assertEqual(hard("s 1", *faces[:1], "s 2", *faces[1:]), 4)
        self.assertEqual(hard("s off", *faces[:1], "s 2", *faces[1:]), 4)
        self.assertEqual(hard(*[f"s {k}\n{line}" for k, line in enumerate(faces, 1)]), 12)
        for odd in (
            "s",
            "s on",
            "s -3",
            "s 99999999999",
            "# hard edge",
            "# hard edge 1",
            "# hard edge 1 2 x",
            "# hard edge 1 99 1",
            "# hard edge 1 2 7",
        ):
            self.assertEqual(hard(odd, *faces), 0, odd)

    def test_broken_ones_are_refused_or_left_out(self) -> None:
        data = write_part("a.ply", creased(sheet(2, 2, 2, 2)))
        # The last edge is named between vertices that are not there, or is as sharp as nothing.
        for at, values in ((-16, np.array([-5, 900], "<i4")), (-8, np.array([np.nan], "<f8"))):
            broken = (
                data[:at] + values.tobytes() + data[at + values.nbytes :][: -at - values.nbytes]
            )
            read, _ = read_part("a.ply", broken)
            self.assertEqual(len(read.hard), len(creased(sheet(2, 2, 2, 2)).hard) - 1)
        glb = write_part("a.glb", creased(sheet(2, 2, 2, 2)))
        with self.assertRaises(FormatError):
            read_part(
                "a.glb",
                glb.replace(np.array([0.25], "<f8").tobytes(), np.array([-1.0], "<f8").tobytes()),
            )
