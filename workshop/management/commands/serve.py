"""Bring the data up to date and serve the workshop on this machine."""

from __future__ import annotations

import os
from typing import Any

import waitress
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand

from cutcore.warm import warm
from wertome.wsgi import application
from workshop.services.sample import add_sample

DEFAULT_PORT = 8600
THREADS = 6


class Command(BaseCommand):
    help = "Bring the data up to date, add the sample project to an empty workshop, and serve it on loopback."

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        add_sample()
        # What is compiled is kept on the disk; where that was lost, this waits instead of the first cut.
        warm()
        port = int(os.environ.get("PORT", DEFAULT_PORT))
        server = waitress.create_server(
            application,
            host="127.0.0.1",
            port=port,
            threads=THREADS,
            max_request_body_size=settings.UPLOAD_BYTES + (1 << 20),
            ident="wertome",
        )
        self.stdout.write(f"Wertome is at http://127.0.0.1:{port}/  (data in {settings.DATA}, Ctrl+C stops it)")
        self.stdout.flush()
        server.run()
