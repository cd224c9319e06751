"""The folder that everything of a workshop is kept in: found, made, and checked before anything is
opened in it."""

from __future__ import annotations

import fcntl
import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from django.core.management.utils import get_random_secret_key

DATABASE = "wertome.sqlite3"
_SQLITE_BEGINS = b"SQLite format 3\0"


class CannotStart(Exception):
    """Why the workshop can't be started, and a way out, in one line."""


def home_of_data() -> Path:
    """Where an installed workshop keeps its data if it is not told: the user's own place for data."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "wertome"


def data_folder(folder: Path) -> Path:
    """The folder, made if it is not there, and writable. Raises CannotStart."""
    if folder.exists() and not folder.is_dir():
        raise CannotStart(f"{folder} is a file, not a folder: name another folder in WERTOME_DATA")
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as trouble:
        raise CannotStart(
            f"the folder {folder} can't be made ({_said(trouble)}): name another one in WERTOME_DATA"
        ) from trouble
    if not os.access(folder, os.W_OK | os.X_OK):
        raise CannotStart(
            f"nothing can be written into {folder}: change its rights, or name another folder in WERTOME_DATA"
        )
    return folder


def secret_key(folder: Path) -> str:
    """The key that signs cookies: made on first use, kept with the data, readable by its owner
    only; made anew if it is empty.

    Raises CannotStart.
    """
    path = folder / "secret.key"
    try:
        known = path.read_text().strip() if path.exists() else ""
        if known:
            return known
        # Written whole beside its place: whoever starts at the same time reads one key or the
        # other, never half of one.
        fresh = folder / f"secret.key.{os.getpid()}"
        with os.fdopen(os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as file:
            file.write(get_random_secret_key())
        fresh.replace(path)
        return path.read_text()
    except (OSError, UnicodeDecodeError) as trouble:
        raise CannotStart(
            f"the key in {path} can't be read or made ({_said(trouble)}): make room, or delete that file"
        ) from trouble


@contextmanager
def one_at_a_time(folder: Path) -> Iterator[None]:
    """Let workshops that start on one folder at the same moment bring its data up to date one after
    the other."""
    with (folder / "starting.lock").open("w") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield


def check_database(folder: Path, known: set[tuple[str, str]]) -> None:
    """Raise CannotStart if there is a database that this version must not touch; it is only read,
    and left as it is.

    `known` are the migrations of this version, as pairs of application and name.
    """
    path = folder / DATABASE
    if not path.exists() or path.stat().st_size == 0:
        return
    other = f"move it away, or name another folder in WERTOME_DATA (now {folder})"
    try:
        with path.open("rb") as file:
            begins = file.read(len(_SQLITE_BEGINS))
        if begins != _SQLITE_BEGINS:
            raise CannotStart(f"{path} is no database: {other}")
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as database:
            tables = {
                name
                for (name,) in database.execute(
                    "select name from sqlite_master where type = 'table'"
                )
            }
            if not tables:
                return
            if "django_migrations" not in tables:
                raise CannotStart(f"{path} is the database of another program: {other}")
            applied = set(
                database.execute("select app, name from django_migrations where app = 'workshop'")
            )
    except sqlite3.DatabaseError as trouble:
        raise CannotStart(
            f"{path} can't be read as a workshop's database ({trouble}): {other}"
        ) from trouble
    except OSError as trouble:
        raise CannotStart(f"{path} can't be read ({_said(trouble)}): {other}") from trouble
    newer = sorted(name for app, name in applied - known)
    if newer:
        raise CannotStart(
            f"{path} was made by a newer version of Wertome ({newer[-1]}): use that version, or {other}"
        )


def _said(trouble: Exception) -> str:
    return str(getattr(trouble, "strerror", None) or trouble).lower()
