"""PLY, STL, glb and SVG: round trips, foreign files, and damaged ones that must be refused and
never crash."""

from __future__ import annotations

import json
import random
import tracemalloc

import numpy as np
from django.test import SimpleTestCase

from cutcore import CutError, FormatError, Mesh, read_part, write_part
from cutcore.formats.svg import FlatCurve, read_svg, write_svg
from cutcore.shapes.box import box
from tests.campaign import SECONDS, limited
from tests.guarantees import assert_same_mesh, volume_of
from tests.zoo import CLOSED, ZOO

SQUARE_PLY = b"""ply
format ascii 1.0
comment made by hand
element vertex 5
property float x
property float y
property float z
property uchar red
element extra 1
property list uchar float things
element face 3
property list uchar int vertex_indices
property int flags
end_header
0 0 0 9
1 0 0 9
1 1 0 9
0 1 0 9
nan 1 0 9
2 1.5 2.5
4 0 1 2 3 7
3 0 1 4 7
3 0 1 9 7
"""


PROMISING_PLY = b"""ply
format binary_little_endian 1.0
element vertex 0
property float x
element face 90
property list uint int vertex_indices
end_header
"""


def foreign_glb(**more: object) -> bytes:
    """One triangle and a strip of two, turned and moved by a node, as another program might write
    them."""
    places = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [1, 1, 0]], "<f4")
    index = np.array([0, 1, 2], "<u2")
    blob = places.tobytes() + index.tobytes() + b"\0\0"
    gltf = {
        "asset": {"version": "2.0"},
        "scenes": [{"nodes": [0]}],
        "nodes": [
            {
                "mesh": 0,
                "translation": [10, 0, 0],
                "rotation": [0, 0, 0.7071067811865476, 0.7071067811865476],
                "scale": [2, 2, 2],
            }
        ],
        "meshes": [
            {
                "name": "flag",
                "primitives": [
                    {"attributes": {"POSITION": 0}, "indices": 1, "material": 0},
                    {"attributes": {"POSITION": 0}, "mode": 5},
                ],
            }
        ],
        "materials": [{"name": "red"}],
        "accessors": [
            {"bufferView": 0, "componentType": 5126, "count": 4, "type": "VEC3"},
            {"bufferView": 1, "componentType": 5123, "count": 3, "type": "SCALAR"},
        ],
        "bufferViews": [
            {"buffer": 0, "byteLength": 48},
            {"buffer": 0, "byteOffset": 48, "byteLength": 6},
        ],
        "buffers": [{"byteLength": len(blob)}],
        **more,
    }
    text = json.dumps(gltf).encode()
    text += b" " * (-len(text) % 4)
    head = np.array(
        [0x46546C67, 2, 28 + len(text) + len(blob), len(text), 0x4E4F534A], "<u4"
    ).tobytes()
    return head + text + np.array([len(blob), 0x004E4942], "<u4").tobytes() + blob


class RoundTrips(SimpleTestCase):
    def test_ply_keeps_polygons_order_and_doubles(self) -> None:
        for name, mesh in ZOO.items():
            with self.subTest(name):
                back, notes = read_part("x.ply", write_part("x.ply", mesh))
                self.assertEqual(notes, ())
                for array in ("points", "starts", "corners"):
                    np.testing.assert_array_equal(getattr(back, array), getattr(mesh, array))

    def test_glb_keeps_everything_ngons_and_hard_edges_included(self) -> None:
        for mesh in ZOO.values():
            painted = Mesh(
                mesh.points,
                mesh.starts,
                mesh.corners,
                mesh.uv,
                np.arange(mesh.face_count) % 2,
                np.full(mesh.face_count, 0),
                ("tin", "glass"),
                ("lid",),
                mesh.edges.ends[:2],
            )
            back, notes = read_part("x.glb", write_part("x.glb", painted))
            self.assertEqual(
                (notes, back.materials, back.patches), ((), ("tin", "glass"), ("lid",))
            )
            assert_same_mesh(back, painted)

    def test_stl_is_welded_on_the_way_in_with_a_note(self) -> None:
        for name, mesh in CLOSED.items():
            with self.subTest(name):
                back, notes = read_part("x.stl", write_part("x.stl", mesh))
                self.assertEqual([n.code for n in notes], ["welded"])
                self.assertEqual(
                    (back.vertex_count, back.face_count),
                    (mesh.vertex_count, len(mesh.triangles.corners)),
                )
                self.assertFalse(back.edges.border.any())
                self.assertAlmostEqual(volume_of(back), volume_of(mesh), places=5)
        text = b"solid\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid\n"
        self.assertEqual(read_part("x.stl", text)[0].face_count, 1)


class Foreign(SimpleTestCase):
    def test_ply_from_elsewhere_is_read_and_what_can_not_be_used_is_noted(self) -> None:
        mesh, notes = read_part("x.ply", SQUARE_PLY)
        self.assertEqual((mesh.face_count, mesh.face(0).tolist()), (1, [0, 1, 2, 3]))
        self.assertIn("2 faces were left out, the first of them face 1", notes[0].words)

    def test_big_endian_ply_with_faces_of_many_sizes_is_read(self) -> None:
        star = ZOO["star prism"]
        header = f"ply\nformat binary_big_endian 1.0\nelement vertex {star.vertex_count}\n"
        header += "property float x\nproperty float y\nproperty float z\n"
        header += (
            f"element face {star.face_count}\nproperty list uchar int vertex_index\nend_header\n"
        )
        rows = b"".join(
            bytes([n]) + star.face(f).astype(">i4").tobytes()
            for f, n in enumerate(star.sizes.tolist())
        )
        mesh, _ = read_part("x.ply", header.encode() + star.points.astype(">f4").tobytes() + rows)
        np.testing.assert_array_equal(mesh.corners, star.corners)

    def test_glb_from_elsewhere_is_placed_welded_and_named(self) -> None:
        mesh, notes = read_part("x.glb", foreign_glb())
        self.assertEqual(
            (mesh.face_count, mesh.vertex_count, mesh.patches, mesh.materials),
            (3, 4, ("flag",), ("red",)),
        )
        self.assertEqual([n.code for n in notes], ["welded"])
        np.testing.assert_allclose(
            mesh.points[mesh.face(0)], [[10, 0, 0], [10, 2, 0], [8, 0, 0]], atol=1e-6
        )
        self.assertEqual(mesh.material.tolist(), [0, -1, -1])

    def test_what_glb_can_not_hold_for_us_is_refused_by_place(self) -> None:
        cases: list[tuple[dict[str, object], str]] = [
            ({"accessors": []}, "accessor 0 is not there"),
            (
                {"bufferViews": [{"buffer": 0, "byteLength": 4800}] * 2},
                r"bufferViews\.0: a block of numbers lies outside",
            ),
            ({"nodes": [{"mesh": 0, "children": [0]}]}, "tree of nodes is broken"),
            ({"asset": {"version": "1.0"}}, r"asset\.version"),
            (
                {
                    "meshes": [
                        {
                            "primitives": [
                                {"attributes": {"POSITION": 0}, "extensions": {"packed": {}}}
                            ]
                        }
                    ]
                },
                "save it uncompressed",
            ),
        ]
        for more, words in cases:
            with self.subTest(words), self.assertRaisesRegex(FormatError, words):
                read_part("x.glb", foreign_glb(**more))


class Drawings(SimpleTestCase):
    def drawing(
        self, body: str, head: str = 'width="100mm" height="50mm" viewBox="0 0 200 100"'
    ) -> bytes:
        return f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" {head}>{body}</svg>'.encode()

    def test_units_groups_and_transforms_are_applied(self) -> None:
        body = '<g transform="translate(20 10)"><path transform="scale(2)" d="M0 0 h10 v10 h-10 z M30 0 L40 5"/></g>'
        curves, notes = read_svg(self.drawing(body))
        self.assertEqual(([c.closed for c in curves], notes), ([True, False], ()))
        np.testing.assert_allclose(
            curves[0].points, [[10, -5], [20, -5], [20, -15], [10, -15]], atol=1e-9
        )
        self.assertEqual([n.code for n in read_svg(self.drawing(body, ""))[1]], ["no-units"])

    def test_curves_are_flattened_within_the_tolerance(self) -> None:
        for tolerance in (1.0, 0.1, 0.001):
            curves, _ = read_svg(
                self.drawing(
                    '<circle cx="60" cy="40" r="20"/>',
                    'width="200mm" height="100mm" viewBox="0 0 200 100"',
                ),
                tolerance=tolerance,
            )
            points = curves[0].points
            self.assertTrue(curves[0].closed)
            middle = 0.5 * (points + np.roll(points, -1, axis=0))
            for reach in (points, middle):
                off = np.abs(np.linalg.norm(reach - [60, -40], axis=1) - 20)
                self.assertLess(off.max(), tolerance)
        bezier, _ = read_svg(
            self.drawing('<path d="M0 0 C 0 100 100 100 100 0 Q 150 -80 200 0"/>'), tolerance=0.05
        )
        fine, _ = read_svg(
            self.drawing('<path d="M0 0 C 0 100 100 100 100 0 Q 150 -80 200 0"/>'),
            tolerance=0.00005,
        )
        coarse = bezier[0].points
        a, b = coarse[:-1], coarse[1:]
        for place in fine[0].points[::7]:
            along = b - a
            t = np.clip(((place - a) * along).sum(axis=1) / (along**2).sum(axis=1), 0, 1)
            self.assertLess(np.linalg.norm(place - a - t[:, None] * along, axis=1).min(), 0.0501)

    def test_outlines_go_out_and_come_back(self) -> None:
        curves = [
            FlatCurve(np.array([[0, 0], [3, 0.1], [2, 5.5]]), True),
            FlatCurve(np.array([[1, 1], [2, 2.25]]), False),
        ]
        back, notes = read_svg(write_svg(curves))
        self.assertEqual(([c.closed for c in back], notes), ([True, False], ()))
        offset = back[0].points[0] - curves[0].points[0]
        for one, other in zip(curves, back, strict=True):
            np.testing.assert_allclose(other.points - offset, one.points, atol=1e-9)

    def test_text_entities_and_endless_use_are_refused_with_advice(self) -> None:
        bomb = "".join(
            f'<g id="a{k}"><use xlink:href="#a{k - 1}"/><use xlink:href="#a{k - 1}"/></g>'
            for k in range(1, 40)
        )
        cases = {
            self.drawing("<text>SL-7</text>"): "turn it into paths",
            b'<!DOCTYPE svg [<!ENTITY a "b">]><svg xmlns="http://www.w3.org/2000/svg">&a;</svg>': "entities",
            self.drawing(
                '<g id="a0"><path d="M0 0 L1 1"/></g>' + bomb
            ): "elements|nested too deeply",
            self.drawing('<g id="a"><use xlink:href="#a"/></g>'): "uses itself",
            self.drawing(""): "no outline",
            b"<html/>": "another element",
            b"<svg": "no XML",
        }
        for data, words in cases.items():
            with self.subTest(words), self.assertRaisesRegex(FormatError, words):
                read_svg(data)


class Damage(SimpleTestCase):
    """Random bytes and mutated samples: every reader refuses or reads, within bounds, and raises
    nothing else."""

    samples = {
        ".obj": [write_part("x.obj", ZOO["comb"]), write_part("x.obj", box(1, 1, 1))],
        ".ply": [
            SQUARE_PLY,
            write_part("x.ply", ZOO["star prism"]),
            write_part("x.ply", box(1, 1, 1)),
        ],
        ".stl": [
            write_part("x.stl", box(1, 1, 1)),
            b"solid\nfacet\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\n",
        ],
        ".glb": [write_part("x.glb", ZOO["comb"]), foreign_glb()],
    }
    drawing = (
        b'<svg width="10mm" viewBox="0 0 9 9"><g transform="rotate(3)">'
        b'<path d="M0 0C1 2 3 4 5 6A2 3 0 0 1 9 9Z"/><circle r="3"/></g></svg>'
    )

    def test_parts(self) -> None:
        for ending, samples in self.samples.items():
            self._assault(
                lambda data, ending=ending: read_part("x" + ending, data)[0].check(), samples
            )

    def test_drawings(self) -> None:
        self._assault(lambda data: read_svg(data), [self.drawing])

    def test_a_file_can_not_promise_more_than_it_holds(self) -> None:
        big = b"4000000000"
        promises = [
            (".ply", SQUARE_PLY.replace(b"vertex 5", b"vertex " + big)),
            (".ply", SQUARE_PLY.replace(b"face 3", b"face " + big)),
            (
                ".ply",
                PROMISING_PLY + b"\xff" * 99,
            ),
            (".stl", b"\0" * 80 + b"\xff\xff\xff\xff" + b"\0" * 50),
            (
                ".glb",
                foreign_glb(
                    accessors=[
                        {
                            "bufferView": 0,
                            "componentType": 5126,
                            "count": 4_000_000_000,
                            "type": "VEC3",
                        }
                    ]
                    * 2
                ),
            ),
        ]
        tracemalloc.start()
        try:
            for ending, data in promises:
                with self.subTest(ending), self.assertRaises(FormatError), limited(SECONDS):
                    read_part("x" + ending, data)
            self.assertLess(tracemalloc.get_traced_memory()[1], 64 << 20)
        finally:
            tracemalloc.stop()

    def _assault(self, read, samples):
        chance = random.Random(11)
        for turn in range(400):
            if turn % 10 == 0:
                data = bytearray(chance.randbytes(chance.randrange(400)))
            else:
                data = bytearray(chance.choice(samples))
                for _ in range(chance.randint(1, 8)):
                    at = chance.randrange(len(data))
                    match chance.randrange(4):
                        case 0:
                            data[at] = chance.randrange(256)
                        case 1:
                            del data[at : at + chance.randrange(1, 40)]
                        case 2:
                            data[at:at] = data[max(0, at - 30) : at]
                        case 3:
                            data[at : at + 4] = chance.choice(
                                [
                                    b"\xff\xff\xff\xff",
                                    b"\0\0\0\0",
                                    b"9999",
                                    b"-1 -",
                                    b"nan ",
                                    b"1e99",
                                ]
                            )
                    if not data:
                        break
            try:
                with limited(SECONDS):
                    read(bytes(data))
            except CutError as refusal:
                self.assertTrue(str(refusal))
