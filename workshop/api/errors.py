"""Every refusal becomes an answer here, and only here, in the same shape as a note."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import ValidationError

from cutcore.errors import CutError
from workshop.errors import NothingTo, NotThere, Stale, TooLarge, WorkshopError

STATUS: dict[type[Exception], int] = {NotThere: 404, Stale: 409, TooLarge: 413, NothingTo: 422, CutError: 422}


def register_errors(api: NinjaAPI) -> None:
    """Teach an API to answer refusals with a status and `{code, words, elements}`."""

    def answer(request: HttpRequest, refusal: Any) -> HttpResponse:
        status = next(status for kind, status in STATUS.items() if isinstance(refusal, kind))
        if isinstance(refusal, CutError):
            body = {"code": refusal.code, "words": str(refusal), "elements": [e.as_json() for e in refusal.elements]}
        else:
            body = {"code": refusal.code, "words": refusal.words, "elements": []}
        return api.create_response(request, body, status=status)

    def answer_invalid(request: HttpRequest, refusal: Any) -> HttpResponse:
        first = refusal.errors[0]
        where = ".".join(str(part) for part in first["loc"][1:])
        body = {"code": "bad-request", "words": f"{where}: {first['msg']}", "elements": []}
        return api.create_response(request, body, status=422)

    api.add_exception_handler(WorkshopError, answer)
    api.add_exception_handler(CutError, answer)
    api.add_exception_handler(ValidationError, answer_invalid)
