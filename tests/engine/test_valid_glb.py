"""Files for other programs are valid: the validator of the format finds nothing wrong with them."""

from __future__ import annotations

import json
import random
import subprocess
import tempfile
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase

from cutcore import FormatError, Mesh, read_part, write_part
from cutcore.formats.files import write_parts
from cutcore.formats.scene_part import ScenePart
from cutcore.geometry.placement import Placement
from cutcore.shapes.sheet import sheet
from tests.awkward import awkward
from tests.guarantees import assert_same_mesh
from tests.zoo import ZOO, painted
from workshop.sample.skerry_light import skerry_light

ROOT = Path(__file__).resolve().parent.parent.parent


class ValidGlb(SimpleTestCase):
    def test_the_validator_of_the_format_finds_nothing_wrong(self) -> None:
        source = random.Random(20)
        parts = (
            [mesh for _, mesh in skerry_light()]
            + list(ZOO.values())
            + [awkward(source)[1] for _ in range(20)]
        )
        parts += [painted(ZOO["torus"], every=3), painted(ZOO["sheet"], every=2)]
        with tempfile.TemporaryDirectory() as folder:
            files = []
            for k, mesh in enumerate(parts):
                files.append(Path(folder) / f"{k}.glb")
                files[-1].write_bytes(write_part("a.glb", mesh))
                assert_same_mesh(read_part("a.glb", files[-1].read_bytes())[0], mesh)
            stands = [Placement(move=(0, k, 0), turn=(30, 0, k)) for k in range(len(parts))]
            scene = [
                ScenePart(f"part {k}", m, at)
                for k, (m, at) in enumerate(zip(parts, stands, strict=True))
            ]
            files.append(Path(folder) / "scene.glb")
            files[-1].write_bytes(write_parts("a.glb", scene))
            modules = ROOT / "web" / "package.json"
            said = subprocess.run(
                ["node", ROOT / "tests" / "engine" / "validate_glb.mjs", modules, *files],
                capture_output=True,
                text=True,
                check=True,
            )
        lines = said.stdout.splitlines()
        self.assertEqual(len(lines), len(files))
        for k, line in enumerate(lines):
            self.assertEqual(json.loads(line), [], f"part {k}")

    def test_texture_places_go_out_and_come_in_the_right_way_up(self) -> None:
        plate = sheet(2.0, 1.0, 2, 1)
        assert plate.uv is not None
        data = write_part("a.glb", plate)
        # As another program reads it: without what is ours alone.
        plain = data.replace(b'"wertome":', b'"another":')
        other = read_part("a.glb", plain)[0]
        assert other.uv is not None

        def by_place(mesh: Mesh) -> dict[tuple[float, ...], tuple[float, ...]]:
            assert mesh.uv is not None
            return {
                tuple(mesh.points[v].tolist()): tuple(np.round(uv, 6).tolist())
                for v, uv in zip(mesh.corners, mesh.uv, strict=True)
            }

        self.assertEqual(by_place(other), by_place(plate))
        head = data.index(b'"TEXCOORD_0":1')
        self.assertGreater(head, 0)

    def test_what_single_precision_can_not_hold_is_refused(self) -> None:
        flat = sheet(1, 1, 1, 1)
        with self.assertRaisesRegex(FormatError, "too large for this format"):
            write_part("a.glb", Mesh(flat.points * 1e50, flat.starts, flat.corners))
