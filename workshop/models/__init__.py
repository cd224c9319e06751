"""What is kept: projects, their parts, the steps of each part and the mesh after every step."""

from workshop.models.part import Part
from workshop.models.project import Project
from workshop.models.snapshot import Snapshot
from workshop.models.step import Step

__all__ = ["Part", "Project", "Snapshot", "Step"]
