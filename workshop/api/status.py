"""What the workshop says of itself."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema

from cutcore.version import VERSION

router = Router(tags=["status"])


class StatusOut(Schema):
    """Which version answers."""

    version: str


@router.get("/status", response=StatusOut)
def get_status(request: HttpRequest) -> StatusOut:
    return StatusOut(version=VERSION)
