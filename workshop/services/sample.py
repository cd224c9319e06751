"""The sample project."""

from __future__ import annotations

from django.db import transaction

from workshop.models import Project
from workshop.sample.housing_drawing import housing_drawing, placement
from workshop.sample.outlines import sample_outlines
from workshop.sample.skerry_light import NAME, STANDING, skerry_light
from workshop.services.drawings import keep_drawing
from workshop.services.outlines import add_outline
from workshop.services.parts import add_part
from workshop.services.projects import add_project


def add_sample() -> Project | None:
    """Add the sample project to a workshop that has never had a project; None if it has."""
    if Project.objects.filter(lesson="").exists():
        return None
    with transaction.atomic():
        project = add_project(NAME)
        fill_with_sample(project)
    return project


def fill_with_sample(project: Project) -> None:
    """Put the parts, the drawing and the outlines of the sample into an empty project."""
    for name, mesh in skerry_light():
        add_part(project, name, mesh, STANDING[name])
    keep_drawing(
        project,
        "Lantern housing",
        ("image/svg+xml", housing_drawing()),
        placement(),
        {"heights": [], "widths": []},
    )
    for name, drawn in sample_outlines():
        add_outline(project, name, drawn)
