"""Refusals of the workshop, beside those of the engine.

WorkshopError
├── NotThere      a project or part that does not exist, or was deleted
├── Stale         the part has changed since the revision a request was made for
├── TooLarge      an upload over the limit
├── NothingTo     undo or redo at the end of the steps
├── Damaged       what is stored is not what was made
└── Stopped       work that was broken off because nobody waits for it any more
"""

from __future__ import annotations


class WorkshopError(Exception):
    code = "refused"

    def __init__(self, words: str) -> None:
        super().__init__(words)
        self.words = words


class NotThere(WorkshopError):
    code = "not-there"


class Stale(WorkshopError):
    code = "stale"


class TooLarge(WorkshopError):
    code = "too-large"


class NothingTo(WorkshopError):
    code = "nothing-to-do"


class Damaged(WorkshopError):
    code = "damaged"

    def __init__(self, words: str) -> None:
        super().__init__(
            f"{words}: stop the workshop and run manage.py verify, which makes it anew from its steps"
        )


class Stopped(WorkshopError):
    code = "stopped"
