"""Every refusal and every fault becomes an answer here, in the same shape as a note: `{code, words,
elements}`, and `where` in the request the value is that was refused."""

from __future__ import annotations

import logging
from dataclasses import dataclass
from typing import Any

from django.core.exceptions import SuspiciousOperation
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from ninja.errors import ValidationErrorContext as Complaints
from ninja.operation import Operation

from cutcore.errors import CutError, FormatError, shortened
from workshop.errors import Damaged, NothingTo, NotThere, Stale, Stopped, TooLarge, WorkshopError
from workshop.faults import CODES, Fault

STATUS: dict[type[Exception], int] = {
    NotThere: 404,
    Stale: 409,
    TooLarge: 413,
    NothingTo: 422,
    CutError: 422,
    Damaged: 500,
    Stopped: 409,
}
# A list of wrong values may be as long as the request: only so many complaints are looked at.
MOST_COMPLAINTS = 1000

log = logging.getLogger("workshop.faults")


@dataclass(frozen=True)
class _Known:
    """A fault of the machine, known by what SQLite says of it."""

    says: tuple[str, ...]
    fault: Fault


_KNOWN = (
    _Known(
        ("locked", "busy"),
        Fault(
            503,
            "busy",
            "Another program is using the workshop's data. Nothing was changed: try again.",
        ),
    ),
    _Known(
        ("readonly", "read-only", "attempt to write"),
        Fault(
            503,
            "read-only",
            "The workshop's data can't be written: its folder or file is read-only. Nothing was changed.",
        ),
    ),
    _Known(
        ("full", "no space"),
        Fault(507, "no-space", "The disk is full. Nothing was changed: make room and try again."),
    ),
    _Known(
        ("disk i/o", "unable to open"),
        Fault(
            507, "no-disk", "The workshop's data can't be reached on the disk. Nothing was changed."
        ),
    ),
    _Known(
        ("malformed", "not a database"),
        Fault(500, "damaged", "The workshop's data file is damaged. Take the last safety copy."),
    ),
)
_NO_MEMORY = Fault(503, "no-memory", "This needs more memory than there is. Nothing was changed.")
_UNFORESEEN = Fault(
    500,
    "fault",
    "Something went wrong that nobody foresaw. Nothing was changed; the server's log tells more.",
)


class Api(NinjaAPI):
    """The API; of a request with very many wrong values it says only that."""

    def get_openapi_operation_id(self, operation: Operation) -> str:
        """Operations are called as the functions that answer them."""
        return operation.view_func.__name__

    def validation_error_from_error_contexts(
        self, error_contexts: list[Complaints[Any]]
    ) -> ValidationError:
        if (
            sum(context.pydantic_validation_error.error_count() for context in error_contexts)
            > MOST_COMPLAINTS
        ):
            return ValidationError(
                [
                    {
                        "loc": ("body",),
                        "msg": "very many values of the request are not what was expected",
                    }
                ]
            )
        return super().validation_error_from_error_contexts(error_contexts)


def register_errors(api: NinjaAPI) -> None:
    """Teach an API to answer refusals with a status and words, and faults, too."""

    def answer(request: HttpRequest, refusal: Any) -> HttpResponse:
        status = next(status for kind, status in STATUS.items() if isinstance(refusal, kind))
        if isinstance(refusal, CutError):
            # Where in a file something is wrong, people can look up; where in a request, they can't.
            in_a_file = isinstance(refusal, FormatError)
            body = {
                "code": refusal.code,
                "words": str(refusal) if in_a_file else shortened(refusal.words),
                "where": refusal.where,
                "elements": [e.as_json() for e in refusal.elements],
            }
        else:
            body = {"code": refusal.code, "words": shortened(refusal.words), "elements": []}
        if status >= 500:
            log.error("%s %s: %s", request.method, request.path, refusal, exc_info=refusal)
        return api.create_response(request, body, status=status)

    def answer_invalid(request: HttpRequest, refusal: Any) -> HttpResponse:
        first = refusal.errors[0]
        where = ".".join(str(part) for part in first["loc"][1:])
        body = {
            "code": "bad-request",
            "words": shortened(first["msg"]),
            "where": shortened(where),
            "elements": [],
        }
        return api.create_response(request, body, status=422)

    def answer_broken(request: HttpRequest, refusal: Any) -> HttpResponse:
        status = refusal.status_code
        return api.create_response(
            request,
            Fault(status, CODES.get(status, "refused"), shortened(str(refusal))).body(),
            status=status,
        )

    def answer_garbled(request: HttpRequest, refusal: Any) -> HttpResponse:
        """A form whose parts, or their names, are not what the web's own rules allow."""
        fault = Fault.of(400)
        return api.create_response(request, fault.body(), status=fault.status)

    def answer_fault(request: HttpRequest, trouble: Any) -> HttpResponse:
        fault = fault_of(trouble)
        log.error("%s %s", request.method, request.path, exc_info=trouble)
        return api.create_response(request, fault.body(), status=fault.status)

    api.add_exception_handler(WorkshopError, answer)
    api.add_exception_handler(CutError, answer)
    api.add_exception_handler(ValidationError, answer_invalid)
    api.add_exception_handler(HttpError, answer_broken)
    for garbled in (MultiPartParserError, SuspiciousOperation):
        api.add_exception_handler(garbled, answer_garbled)
    api.add_exception_handler(Exception, answer_fault)


def fault_of(trouble: Exception) -> Fault:
    """What a failure means to whoever asked."""
    if isinstance(trouble, MemoryError):
        return _NO_MEMORY
    if isinstance(trouble, DatabaseError | OSError):
        said = str(trouble).lower()
        for known in _KNOWN:
            if any(part in said for part in known.says):
                return known.fault
    return _UNFORESEEN
