"""Bring the data up to date and serve the workshop on this machine."""

from __future__ import annotations

import os
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import DatabaseError
from django.db.migrations.loader import MigrationLoader

from wertome.data_folder import CannotStart, check_database, one_at_a_time
from wertome.wsgi import application
from workshop.server import Server, bound, port_of
from workshop.services.sample import add_sample
from workshop.services.upkeep import Upkeep, bring_up_to_date

DEFAULT_PORT = "8600"


class Command(BaseCommand):
    help = "Bring the data up to date, add the sample project to an empty workshop, and serve it on loopback."

    def handle(self, *args: Any, **options: Any) -> None:
        port = port_of(os.environ.get("PORT", DEFAULT_PORT))
        check_database(settings.DATA, set(MigrationLoader(None).disk_migrations))
        door = bound(port)
        try:
            with one_at_a_time(settings.DATA):
                call_command("migrate", verbosity=0)
                bring_up_to_date(self.stdout.write)
                add_sample()
        except (DatabaseError, OSError) as trouble:
            words = f"the data in {settings.DATA} can't be brought up to date ({trouble}): see that there is room, and start again"
            raise CannotStart(words) from trouble
        server = Server(application, door)
        self.stdout.write(
            f"Wertome is at http://127.0.0.1:{port}/  (data in {settings.DATA}, Ctrl+C stops it)"
        )
        self.stdout.flush()
        upkeep = Upkeep()
        upkeep.start()
        server.run()
        upkeep.stop()
