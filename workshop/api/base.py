"""What all requests have in common: numbers are finite, and those of rows and elements can be
stored."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from django.http import HttpRequest
from ninja import Schema
from pydantic import ConfigDict, Field

# The number of a row, as the database can hold it.
Id = Annotated[int, Field(ge=0, lt=2**63)]


class In(Schema):
    """The body of a request: a field that is none of its own is refused, not passed over."""

    model_config = ConfigDict(allow_inf_nan=False, extra="forbid")


def has_left(request: HttpRequest) -> Callable[[], bool]:
    """Tells whether whoever asked has gone: closed the page, or pressed stop."""
    left: Callable[[], bool] = request.META.get("waitress.client_disconnected", lambda: False)
    return left
