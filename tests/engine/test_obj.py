"""OBJ files: what is read, what is refused with which words, and that writing loses nothing."""

from __future__ import annotations

import random

import numpy as np
from django.test import SimpleTestCase

from cutcore import FormatError, Mesh, read_part, write_part
from tests.guarantees import assert_same_mesh
from tests.zoo import ZOO

SQUARE = b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n"


class Reading(SimpleTestCase):
    def test_what_is_written_reads_back_to_the_same_doubles(self) -> None:
        for name, mesh in ZOO.items():
            with self.subTest(name):
                back, notes = read_part("part.obj", write_part("part.obj", mesh))
                self.assertEqual(notes, ())
                assert_same_mesh(mesh, back)

    def test_groups_materials_texture_places_and_negative_numbers_are_understood(self) -> None:
        text = (
            SQUARE
            + b"vt 0 0\nvt .5 1\ng lid top\nusemtl tin\nf 1/1 2/2 3/1\n# a remark\ng\nf -4 -2 \\\n -1\n"
        )
        mesh, notes = read_part("PART.OBJ", text)
        self.assertEqual(notes, ())
        self.assertEqual([mesh.face(0).tolist(), mesh.face(1).tolist()], [[0, 1, 2], [0, 2, 3]])
        self.assertEqual((mesh.patches, mesh.materials), (("lid top",), ("tin",)))
        self.assertEqual((mesh.patch.tolist(), mesh.material.tolist()), ([0, -1], [0, 0]))
        assert mesh.uv is not None
        np.testing.assert_array_equal(mesh.uv[:3], [[0, 0], [0.5, 1], [0, 0]])
        self.assertTrue(np.isnan(mesh.uv[3:]).all())

    def test_broken_lines_beside_usable_ones_are_left_out_and_named(self) -> None:
        mesh, notes = read_part(
            "part.obj", SQUARE + b"f 1 2 9\nv 1 x 0\nf 1 2 5\nf 1 1 2\nf 1 2 3 4\n"
        )
        self.assertEqual((mesh.vertex_count, mesh.face_count), (5, 1))
        self.assertEqual(
            [note.words.split(" was")[0] for note in notes],
            ["Line 5", "Line 6", "Line 7", "Line 8"],
        )

    def test_a_file_without_a_usable_face_is_refused_with_its_line(self) -> None:
        cases = {
            b"": "the file is empty",
            b" \n\n": "the file is empty",
            b"v 0 0 0\n": "ends at line 1 without a face",
            SQUARE + b"f 1 2 7\n": "line 5: vertex 7 is not there, the file has 4 so far",
            SQUARE + b"f 0 1 2\n": "line 5: vertex 0 is not there",
            b"v nan 0 0\nv 0 1 0\nv 1 0 0\nf 1 2 3\n": "line 1: a coordinate is not finite",
            b"v 1e999 0 0\nv 0 1 0\nv 1 0 0\nf 1 2 3\n": "line 1: a coordinate is not finite",
            b"\x00\x01\x02": "line 1: this is not a text file",
            b"v 1 2 3\n\x89PNG\x00": "line 2: this is not a text file",
            b"hello\nthere\n": "without a face",
        }
        for data, words in cases.items():
            with self.subTest(data), self.assertRaisesRegex(FormatError, words):
                read_part("part.obj", data)

    def test_another_ending_is_refused_with_what_can_be_read(self) -> None:
        with self.assertRaisesRegex(FormatError, r"files ending in \.doc can't be read; try \.obj"):
            read_part("part.doc", SQUARE)

    def test_damaged_files_never_crash(self) -> None:
        chance = random.Random(7)
        whole = write_part("part.obj", ZOO["comb"])
        for _ in range(300):
            data = bytearray(whole)
            for _ in range(chance.randint(1, 12)):
                data[chance.randrange(len(data))] = chance.randrange(256)
            try:
                mesh, _ = read_part("part.obj", bytes(data))
            except FormatError:
                continue
            self.assertIsInstance(mesh, Mesh)
