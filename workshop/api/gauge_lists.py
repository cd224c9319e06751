"""Lists of distances, kept by name in a project."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from cutcore.tools.gauge import GaugeParams
from workshop.api.base import Id, In
from workshop.api.shapes import ErrorOut
from workshop.models import GaugeList
from workshop.services.gauge_lists import drop_list, keep_list
from workshop.services.projects import project_at

router = Router(tags=["gauge lists"])


class GaugeListIn(In):
    name: str = Field(min_length=1, max_length=120)
    params: GaugeParams


class GaugeListOut(Schema):
    id: int
    name: str
    params: GaugeParams

    @staticmethod
    def of(kept: GaugeList) -> GaugeListOut:
        return GaugeListOut(id=kept.pk, name=kept.name, params=kept.params)


@router.get("/projects/{project_id}/gauge-lists", response={200: list[GaugeListOut], 404: ErrorOut})
def list_gauge_lists(request: HttpRequest, project_id: Id) -> list[GaugeListOut]:
    return [
        GaugeListOut.of(kept) for kept in GaugeList.objects.filter(project=project_at(project_id))
    ]


@router.post(
    "/projects/{project_id}/gauge-lists", response={201: GaugeListOut, 404: ErrorOut, 422: ErrorOut}
)
def keep_gauge_list(
    request: HttpRequest, project_id: Id, body: GaugeListIn
) -> tuple[int, GaugeListOut]:
    """Keep a list; one of the same name is replaced."""
    return 201, GaugeListOut.of(keep_list(project_at(project_id), body.name, body.params))


@router.delete("/gauge-lists/{list_id}", response={204: None, 404: ErrorOut})
def drop_gauge_list(request: HttpRequest, list_id: Id) -> tuple[int, None]:
    drop_list(list_id)
    return 204, None
