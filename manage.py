#!/usr/bin/env python
"""Run a command of the workshop, for example `manage.py serve`."""

from wertome.__main__ import main

if __name__ == "__main__":
    main()
