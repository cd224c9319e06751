"""Lessons: the copies of the sample project that they are taken on."""

from __future__ import annotations

from typing import cast

from django.http import HttpRequest
from ninja import Router, Schema

from workshop.api.shapes import ProjectOut
from workshop.services import lessons as service
from workshop.services.lessons import LessonName

router = Router(tags=["lessons"])


class BegunLessonOut(Schema):
    """A lesson that was begun and not let go, and the project it is taken on."""

    lesson: LessonName
    project: int


@router.get("/lessons", response=list[BegunLessonOut])
def list_begun_lessons(request: HttpRequest) -> list[BegunLessonOut]:
    return [
        BegunLessonOut(lesson=cast(LessonName, copy.lesson), project=copy.pk)
        for copy in service.begun_lessons()
    ]


@router.put("/lessons/{lesson}", response=ProjectOut)
def take_up_lesson(request: HttpRequest, lesson: LessonName) -> ProjectOut:
    """The project of a lesson as it was left, or a new copy of the sample."""
    return ProjectOut.of(service.take_up(lesson))


@router.delete("/lessons/{lesson}", response={204: None})
def let_lesson_go(request: HttpRequest, lesson: LessonName) -> tuple[int, None]:
    """Let the project of a lesson go for good, if there is one."""
    service.let_go(lesson)
    return 204, None
