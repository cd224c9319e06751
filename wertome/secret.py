"""The key that signs cookies: made once, kept with the data."""

from __future__ import annotations

import os
from pathlib import Path

from django.core.management.utils import get_random_secret_key


def secret_key(folder: Path) -> str:
    """The key in a folder, made on first use and readable by its owner only."""
    path = folder / "secret.key"
    if not path.exists():
        try:
            handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        except FileExistsError:
            return path.read_text()
        with os.fdopen(handle, "w") as file:
            file.write(get_random_secret_key())
    return path.read_text()
