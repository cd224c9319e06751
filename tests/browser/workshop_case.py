"""The whole application under a browser: a live server, the sample project and a person before
it."""

from __future__ import annotations

import json
import os
from contextlib import ExitStack
from functools import cache
from multiprocessing.util import Finalize
from typing import ClassVar

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from playwright.sync_api import Browser, Page

from cutcore import Mesh, read_part
from tests.browser.person import SCREEN, Person, browser
from workshop.services.live_meshes import forget_all
from workshop.services.sample import add_sample
from workshop.services.smooth_forms import forget_forms

# The browser's driver runs an event loop in this thread; the test's own queries are safe beside it.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"


# The cards and settings of someone who has everything open.
ALL_OPEN = {
    "state": {
        "apart": {},
        "planning": dict.fromkeys(
            ("pick", "patches", "measure", "flow", "steps", "place", "drawing-card"), True
        ),
        "more": dict.fromkeys(
            ("knife", "loop", "slice", "outline", "gauge", "freehand", "ruled", "seam"), True
        ),
    },
    "version": 0,
}
HAVE_ALL_OPEN = f"""if (location.protocol === "http:")
    localStorage.folds ??= JSON.stringify({json.dumps(ALL_OPEN)});"""


@cache
def running_browser() -> Browser:
    """The browser of this process: started once, closed as the process ends."""
    stack = ExitStack()
    Finalize(None, stack.close, exitpriority=10)
    return stack.enter_context(browser())


class WorkshopCase(StaticLiveServerTestCase):
    """Starts from the sample project before every test, and fails on any error on the page."""

    # What is drawn costs a quarter at a half; all places and sizes on the page are as ever.
    scale: ClassVar[float] = 0.5
    # What is seen depends on what is folded: tests of that begin as everyone does.
    all_open: ClassVar[bool] = True
    _browser: ClassVar[Browser]
    _window: ClassVar[Page]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls._browser = running_browser()
        cls._window = cls._new_window()

    @classmethod
    def tearDownClass(cls) -> None:
        cls._window.context.close()
        super().tearDownClass()

    @classmethod
    def _new_window(cls) -> Page:
        page = cls._browser.new_context(
            viewport=SCREEN,
            device_scale_factor=cls.scale,
            reduced_motion="reduce",
            accept_downloads=True,
        ).new_page()
        if cls.all_open:
            page.add_init_script(HAVE_ALL_OPEN)
        return page

    def setUp(self) -> None:
        forget_all()
        forget_forms()
        add_sample()
        # A window that has shown the page before shows it again in half the time; all it remembers
        # is taken from it.
        self._window.mouse.move(0, 0)
        with_tools = self._window.context.new_cdp_session(self._window)
        with_tools.send(
            "Storage.clearDataForOrigin",
            {"origin": self.live_server_url, "storageTypes": "cookies,local_storage"},
        )
        with_tools.detach()
        self.person = self._person_at(self._window)
        self.addCleanup(self._window.goto, "about:blank")

    def someone(self) -> Person:
        """A further person, with a browser window of their own."""
        window = self._new_window()
        self.addCleanup(window.context.close)
        return self._person_at(window)

    def _person_at(self, window: Page) -> Person:
        person = Person(window, self.live_server_url)
        self.addCleanup(lambda: self.assertEqual(person.troubles, []))
        self.addCleanup(person.leave)
        return person

    def exported(self, person: Person | None = None) -> Mesh:
        """The part as it leaves the application."""
        mesh, notes = read_part("part.obj", (person or self.person).export())
        self.assertEqual(notes, ())
        return mesh
