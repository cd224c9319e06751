"""Verify that every mesh that is kept is what its steps made, and make wrong ones anew."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from workshop.services.verify import verify_all


class Command(BaseCommand):
    help = "Make every mesh again from its steps, say what differs, and mend what is damaged and can be made anew."

    def handle(self, *args: Any, **options: Any) -> None:
        found = verify_all(self.stdout.write)
        self.stdout.write(found.words())
        if found.lost:
            raise CommandError("some meshes are lost: take them from a safety copy", returncode=1)
