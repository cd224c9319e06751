"""The API: what the front end may ask and do."""

from workshop.api.aiming import router as aiming_router
from workshop.api.drawings import router as drawings_router
from workshop.api.errors import Api, register_errors
from workshop.api.gauge_lists import router as gauge_lists_router
from workshop.api.guard import SameOrigin
from workshop.api.handles import router as handles_router
from workshop.api.history import router as history_router
from workshop.api.jobs import router as jobs_router
from workshop.api.lessons import router as lessons_router
from workshop.api.outlines import router as outlines_router
from workshop.api.parts import router as parts_router
from workshop.api.picking import router as picking_router
from workshop.api.pictures import router as pictures_router
from workshop.api.planning import router as planning_router
from workshop.api.projects import router as projects_router
from workshop.api.rendering import Json
from workshop.api.status import router as status_router
from workshop.api.table import router as table_router

api = Api(title="Wertome", version="1", auth=SameOrigin(), docs_url=None, renderer=Json())
api.add_router("", projects_router)
api.add_router("", lessons_router)
api.add_router("", parts_router)
api.add_router("", pictures_router)
api.add_router("", planning_router)
api.add_router("", picking_router)
api.add_router("", aiming_router)
api.add_router("", handles_router)
api.add_router("", gauge_lists_router)
api.add_router("", drawings_router)
api.add_router("", outlines_router)
api.add_router("", table_router)
api.add_router("", history_router)
api.add_router("", jobs_router)
api.add_router("", status_router)
register_errors(api)
