"""Answers as JSON: a preview is many numbers, and the standard library takes longer to write them than to find them."""

from __future__ import annotations

from typing import Any

import orjson
from django.http import HttpRequest
from ninja.renderers import BaseRenderer


class Json(BaseRenderer):
    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        return orjson.dumps(data)
