"""Write the description of the API that the front end's types are made from."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from workshop.api import api


class Command(BaseCommand):
    help = "Write the OpenAPI schema of the API to a file."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("out", type=Path)

    def handle(self, *args: Any, out: Path, **options: Any) -> None:
        out.write_text(json.dumps(api.get_openapi_schema(), indent=1) + "\n")
