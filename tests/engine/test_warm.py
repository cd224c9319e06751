"""Nobody's first cut waits for a loop to be compiled."""

from __future__ import annotations

import subprocess
import sys
import unittest


class Warm(unittest.TestCase):
    def test_no_cut_compiles_a_loop_that_set_up_has_not(self) -> None:
        found = subprocess.run(
            [sys.executable, "-m", "tests.engine.compiled_anew"],
            capture_output=True,
            text=True,
            check=True,
        )
        self.assertEqual(found.stdout.split(), [])
