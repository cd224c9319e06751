"""What is kept: projects, their parts, the steps of each part and the mesh after every step; lists
of distances, drawings and outlines."""

from workshop.models.drawing import Drawing
from workshop.models.entry import Entry
from workshop.models.gauge_list import GaugeList
from workshop.models.outline import Outline
from workshop.models.part import Part
from workshop.models.project import Project
from workshop.models.snapshot import Snapshot
from workshop.models.step import Step

__all__ = ["Drawing", "Entry", "GaugeList", "Outline", "Part", "Project", "Snapshot", "Step"]
