"""Lessons: each is taken on a copy of the sample project, made when it is begun, kept while it is
left half-way, and let go for good afterwards."""

from __future__ import annotations

from typing import Literal

from django.db import transaction
from django.db.models import QuerySet

from workshop.models import Project
from workshop.sample.skerry_light import NAME
from workshop.services.deleted import delete_for_good
from workshop.services.projects import project_at
from workshop.services.sample import fill_with_sample

LessonName = Literal[
    "first-line",
    "loop-that-stops",
    "halve-and-mirror",
    "vent",
    "off-a-drawing",
    "quads-to-the-end",
    "shards",
    "held-form",
]


def begun_lessons() -> QuerySet[Project]:
    """The copies of lessons that were begun and not let go, the last worked on first."""
    return Project.objects.filter(deleted=None).exclude(lesson="")


def take_up(lesson: LessonName) -> Project:
    """The copy a lesson is taken on, as it was left, or a new one; asked for twice it is one."""
    with transaction.atomic():
        copy, begun = Project.objects.get_or_create(lesson=lesson, defaults={"name": NAME})
        if begun:
            fill_with_sample(copy)
        elif copy.deleted:
            copy.deleted = None
            copy.save(update_fields=["deleted"])
    return project_at(copy.pk)


def let_go(lesson: LessonName) -> None:
    """Delete the copy of a lesson for good, if there is one."""
    with transaction.atomic():
        for copy in Project.objects.filter(lesson=lesson):
            delete_for_good(copy)
