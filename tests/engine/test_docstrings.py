"""What docstrings show is what happens."""

from __future__ import annotations

import doctest
import importlib
import pkgutil

import numpy as np
from django.test import SimpleTestCase

import cutcore


class Docstrings(SimpleTestCase):
    def test_examples_in_docstrings_come_out_as_they_say(self) -> None:
        run = 0
        for found in pkgutil.walk_packages(cutcore.__path__, "cutcore."):
            if found.name.endswith("__main__"):
                continue
            module = importlib.import_module(found.name)
            result = doctest.testmod(module, extraglobs={"np": np})
            self.assertEqual(result.failed, 0, found.name)
            run += result.attempted
        self.assertGreater(run, 10)
