"""Lists of distances that a project keeps by name."""

from __future__ import annotations

from django.db import transaction

from cutcore.tools.gauge import GaugeParams
from workshop.errors import NotThere
from workshop.models import GaugeList, Project


def keep_list(project: Project, name: str, params: GaugeParams) -> GaugeList:
    """Keep a list under a name; one of that name is replaced."""
    bare = params.model_copy(update={"limit": None, "mirror": None}).model_dump(mode="json")
    with transaction.atomic():
        made, _ = GaugeList.objects.update_or_create(
            project=project, name=name.strip(), defaults={"params": bare}
        )
    return made


def drop_list(list_id: int) -> None:
    """Raises NotThere."""
    gone, _ = GaugeList.objects.filter(pk=list_id, project__deleted=None).delete()
    if not gone:
        raise NotThere("this list is not there any more")
