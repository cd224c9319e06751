"""The whole application under a browser: a live server, the sample project and a person before it."""

from __future__ import annotations

import os
from contextlib import ExitStack
from typing import ClassVar

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from playwright.sync_api import Browser

from cutcore import Mesh, read_part
from tests.browser.person import SCREEN, Person, browser
from workshop.services.live_meshes import forget_all
from workshop.services.sample import add_sample

# The browser's driver runs an event loop in this thread; the test's own queries are safe beside it.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"


class WorkshopCase(StaticLiveServerTestCase):
    """Starts from the sample project before every test, and fails on any error on the page."""

    _stack: ClassVar[ExitStack]
    _browser: ClassVar[Browser]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls._stack = ExitStack()
        cls._browser = cls._stack.enter_context(browser())

    @classmethod
    def tearDownClass(cls) -> None:
        cls._stack.close()
        super().tearDownClass()

    def setUp(self) -> None:
        forget_all()
        add_sample()
        self.person = self.someone()

    def someone(self) -> Person:
        """A person with a browser window of their own."""
        context = self._browser.new_context(viewport=SCREEN, reduced_motion="reduce", accept_downloads=True)
        self.addCleanup(context.close)
        person = Person(context.new_page(), self.live_server_url)
        self.addCleanup(lambda: self.assertEqual(person.troubles, []))
        return person

    def exported(self, person: Person | None = None) -> Mesh:
        """The part as it leaves the application."""
        mesh, notes = read_part("part.obj", (person or self.person).export())
        self.assertEqual(notes, ())
        return mesh
