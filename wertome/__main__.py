"""The command `wertome`, for those who have it installed: `wertome serve`, `wertome --version`; all
that `manage.py` does is done from here."""

from __future__ import annotations

import os
import sys

from django.core.management import execute_from_command_line

from cutcore.version import VERSION
from wertome.data_folder import CannotStart


def main(arguments: list[str] | None = None) -> None:
    """Run one command. Ends with a line on stderr if the workshop can't be started."""
    given = sys.argv[1:] if arguments is None else arguments
    if given == ["--version"]:
        print(f"wertome {VERSION}")
        return
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wertome.settings")
    try:
        execute_from_command_line(["wertome", *given])
    except CannotStart as why:
        sys.exit(f"wertome: {why}")


if __name__ == "__main__":
    main()
