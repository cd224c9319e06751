"""The outermost layer: bodies that are too large are refused unread, and every failed answer is
words in JSON."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import orjson
from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseBase

# Whole projects come in here, and are larger than parts.
PROJECT_FILES = "/api/project-files"
# What a form puts round a file.
ROUND_IT = 1 << 20

CODES = {
    400: "bad-request",
    403: "forbidden",
    404: "not-there",
    405: "not-possible",
    413: "too-large",
    431: "too-large",
    500: "fault",
    503: "busy",
}
_WORDS = {
    400: "The request can't be understood.",
    403: "The page's token is missing or old: load the page again.",
    404: "There is nothing at this address.",
    405: "That can't be done at this address.",
    413: "That is more than the workshop takes at once.",
    500: "Something went wrong in the workshop. Nothing was changed; the log of the server tells more.",
}


@dataclass(frozen=True)
class Fault:
    """A failure as it is answered."""

    status: int
    code: str
    words: str

    @staticmethod
    def of(status: int) -> Fault:
        return Fault(
            status,
            CODES.get(status, "refused"),
            _WORDS.get(status, "The workshop refused this request."),
        )

    def body(self) -> dict[str, object]:
        return {"code": self.code, "words": self.words, "elements": []}

    def answer(self) -> HttpResponse:
        return HttpResponse(
            orjson.dumps(self.body()), status=self.status, content_type="application/json"
        )


class InWords:
    """Middleware for all others to stand inside of."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        answer = Fault.of(413).answer() if _too_large(request) else self._get_response(request)
        if answer.status_code >= 400 and not answer.headers.get("Content-Type", "").startswith(
            "application/json"
        ):
            allowed = answer.headers.get("Allow")
            answer = Fault.of(answer.status_code).answer()
            if allowed is not None:
                answer["Allow"] = allowed
        # Also what is answered before those inside have seen it.
        answer.headers.setdefault("X-Content-Type-Options", "nosniff")
        return answer


def _too_large(request: HttpRequest) -> bool:
    """Whether a body is longer than any upload to that address, or, where it is no upload, than any
    that the API understands, or holds too many values: lists of nothing take twenty times their
    length in memory."""
    if request.method in ("GET", "HEAD"):
        return False
    length = request.headers.get("Content-Length", "0")
    size = int(length) if length.isdigit() else 0
    if request.content_type == "multipart/form-data":
        projects = request.path == PROJECT_FILES
        return size > (settings.PROJECT_BYTES if projects else settings.UPLOAD_BYTES) + ROUND_IT
    if size > settings.JSON_BYTES:
        return True
    body = request.body
    return body.count(b",") + body.count(b"[") + body.count(b"{") > settings.JSON_VALUES
