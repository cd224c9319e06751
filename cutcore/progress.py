"""How far a long piece of work has come, told to whoever watches it.

Nobody watches unless that is asked for, and being watched changes no result. Whoever watches may
break the work off by raising: nothing is changed by work that was not finished."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from typing import TypeVar

# What is done now, in a few words, and the share of it that is done, if that can be told.
Watcher = Callable[[str, float | None], None]

_watcher: ContextVar[Watcher | None] = ContextVar("watcher", default=None)

Item = TypeVar("Item")


@contextmanager
def watched(by: Watcher) -> Iterator[None]:
    """Tell how far the work done within has come."""
    before = _watcher.set(by)
    try:
        yield
    finally:
        _watcher.reset(before)


def come_to(words: str, share: float | None = None) -> None:
    """Say what is done now."""
    watcher = _watcher.get()
    if watcher is not None:
        watcher(words, share)


def one_by_one(words: str, items: Sequence[Item]) -> Iterator[Item]:
    """The items of a sequence, each after saying how many are done."""
    for done, item in enumerate(items):
        come_to(words, done / len(items))
        yield item
