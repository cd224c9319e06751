"""Following and breaking off work that takes long."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from ninja import Path, Router, Schema
from pydantic import Field

from workshop.api.shapes import ErrorOut
from workshop.services.jobs import job_at

router = Router(tags=["jobs"])

# Chosen by whoever begins the work, so that it can be asked for while it is done.
JobName = Annotated[str, Field(pattern=r"^[0-9a-f-]{8,40}$")]


class JobOut(Schema):
    """What is done now, and the share of it that is done, if that can be told."""

    words: str
    share: float | None


@router.get("/jobs/{name}", response={200: JobOut, 404: ErrorOut})
def get_job(request: HttpRequest, name: Path[JobName]) -> JobOut:
    found = job_at(name)
    return JobOut(words=found.words, share=found.share)


@router.delete("/jobs/{name}", response={204: None, 404: ErrorOut})
def stop_job(request: HttpRequest, name: Path[JobName]) -> tuple[int, None]:
    """Break it off: what began it is answered `stopped`, and nothing is changed."""
    job_at(name).broken_off.set()
    return 204, None
