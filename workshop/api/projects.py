"""Projects."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from cutcore.geometry.units import Unit
from workshop.api.base import Id, In
from workshop.api.shapes import ErrorOut, ProjectOut
from workshop.services import projects as service
from workshop.services.deleted import days_left, deleted_projects
from workshop.storage.reading import reading

router = Router(tags=["projects"])


class NameIn(In):
    name: str = Field(min_length=1, max_length=120)


class ProjectIn(NameIn):
    unit: Unit = "mm"


class ProjectChangeIn(In):
    """What is to change; null leaves it. Another unit leaves the numbers as they are."""

    name: str | None = Field(default=None, min_length=1, max_length=120)
    unit: Unit | None = None


@router.get("/projects", response=list[ProjectOut])
def list_projects(request: HttpRequest) -> list[ProjectOut]:
    with reading():
        return [ProjectOut.of(project) for project in service.listed_projects()]


@router.post("/projects", response={201: ProjectOut})
def create_project(request: HttpRequest, body: ProjectIn) -> tuple[int, ProjectOut]:
    return 201, ProjectOut.of(service.add_project(body.name, body.unit))


class DeletedProjectOut(Schema):
    """A project that was deleted and can be brought back."""

    id: int
    name: str
    days_left: int = Field(description="after so many days it is gone for good")


@router.get("/deleted-projects", response=list[DeletedProjectOut])
def list_deleted_projects(request: HttpRequest) -> list[DeletedProjectOut]:
    return [
        DeletedProjectOut(id=p.pk, name=p.name, days_left=days_left(p)) for p in deleted_projects()
    ]


@router.get("/projects/{project_id}", response={200: ProjectOut, 404: ErrorOut})
def get_project(request: HttpRequest, project_id: Id) -> ProjectOut:
    with reading():
        return ProjectOut.of(service.project_at(project_id))


@router.patch("/projects/{project_id}", response={200: ProjectOut, 404: ErrorOut})
def change_project(request: HttpRequest, project_id: Id, body: ProjectChangeIn) -> ProjectOut:
    return ProjectOut.of(service.change_project(project_id, name=body.name, unit=body.unit))


class OrderIn(In):
    """All parts of a project in the order wanted."""

    parts: list[Id] = Field(max_length=10_000)


@router.put(
    "/projects/{project_id}/order", response={200: ProjectOut, 404: ErrorOut, 409: ErrorOut}
)
def arrange_parts(request: HttpRequest, project_id: Id, body: OrderIn) -> ProjectOut:
    """Put the parts in another order."""
    return ProjectOut.of(service.arrange_parts(project_id, body.parts))


@router.post("/projects/{project_id}/duplicate", response={201: ProjectOut, 404: ErrorOut})
def duplicate_project(request: HttpRequest, project_id: Id) -> tuple[int, ProjectOut]:
    return 201, ProjectOut.of(service.duplicate_project(project_id))


@router.delete("/projects/{project_id}", response={204: None, 404: ErrorOut})
def delete_project(request: HttpRequest, project_id: Id) -> tuple[int, None]:
    service.delete_project(project_id)
    return 204, None


@router.post("/projects/{project_id}/restore", response={200: ProjectOut, 404: ErrorOut})
def restore_project(request: HttpRequest, project_id: Id) -> ProjectOut:
    return ProjectOut.of(service.restore_project(project_id))
