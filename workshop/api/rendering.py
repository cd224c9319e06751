"""Answers as JSON: a preview is many numbers, and the standard library takes longer to write them
than to find them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import orjson
from django.http import HttpRequest, HttpResponse
from ninja import Schema
from ninja.renderers import BaseRenderer


class Json(BaseRenderer):
    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        return orjson.dumps(data)


def rendered(answer: Schema, *, status: int = 200) -> HttpResponse:
    """An answer as it goes out. Whoever keeps something for good renders first: nothing can fail
    afterwards."""
    return HttpResponse(
        answer.model_dump_json(by_alias=True), content_type=Json.media_type, status=status
    )


BYTES = "application/octet-stream"


def sends(content_type: str = BYTES) -> dict[str, Any]:
    """What is told, in the description of the API, of an answer that is bytes."""
    content = {content_type: {"schema": {"type": "string", "format": "binary"}}}
    return {"responses": {200: {"description": "OK", "content": content}}}


def tagged(
    request: HttpRequest, tag: str, content: Callable[[], bytes], *, content_type: str
) -> HttpResponse:
    """Content that a browser may keep as long as its tag is the same; asked for only if the browser
    has not got it."""
    quoted = f'"{tag}"'
    if request.headers.get("If-None-Match") == quoted:
        return HttpResponse(status=304)
    answer = HttpResponse(content(), content_type=content_type)
    answer["Cache-Control"] = "private, no-cache"
    answer["ETag"] = quoted
    return answer
