#!/usr/bin/env python
"""Run a command of the workshop, for example `manage.py serve`."""

import os
import sys

from django.core.management import execute_from_command_line

from wertome.data_folder import CannotStart

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wertome.settings")
    try:
        execute_from_command_line(sys.argv)
    except CannotStart as why:
        sys.exit(f"wertome: {why}")
