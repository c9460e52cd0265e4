"""The API: one object, its errors, its routers."""

from __future__ import annotations

from typing import Any

import orjson
from django.http import HttpRequest
from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema
from ninja.renderers import BaseRenderer
from pydantic import BaseModel

from coldstack import __version__
from coldstack.server.api import errors
from coldstack.server.api.access import FromOurPage
from coldstack.server.api.document import put_right
from coldstack.server.bench.routes import router as bench_router
from coldstack.server.charges.routes import router as charges_router
from coldstack.server.drawings.routes import router as drawings_router
from coldstack.server.gear.file_routes import router as file_router
from coldstack.server.gear.kind_routes import router as kind_router
from coldstack.server.gear.offer_routes import router as offer_router
from coldstack.server.gear.routes import router as gear_router
from coldstack.server.keeping.place import router as place_router
from coldstack.server.keeping.routes import page_router
from coldstack.server.keeping.routes import router as keeping_router
from coldstack.server.logs.routes import router as logs_router
from coldstack.server.matching.routes import router as matching_router
from coldstack.server.pairing.routes import router as pairing_router
from coldstack.server.practice.routes import router as practice_router
from coldstack.server.rules.routes import router as rules_router
from coldstack.server.running.routes import router as running_router
from coldstack.server.safety.routes import router as safety_router
from coldstack.server.sizing.routes import router as sizing_router
from coldstack.server.tomorrow.routes import router as tomorrow_router
from coldstack.server.worlds.routes import router as worlds_router


class FastJson(BaseRenderer):
    """JSON by orjson: quick with long columns of numbers; NaN becomes null, never an invalid word."""

    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        """The reply's body."""
        return orjson.dumps(data)


class ServerHealth(BaseModel):
    """Whether the server answers, and which version it is."""

    status: str
    version: str


class Api(NinjaAPI):
    """The API, whose document says what its answers really are."""

    def get_openapi_schema(self, **options: Any) -> OpenAPISchema:
        """The OpenAPI document."""
        schema = super().get_openapi_schema(**options)
        put_right(schema)
        return schema


api = Api(
    title="Cold Stack",
    version=__version__,
    description=(
        "Choosing, charging and keeping battery packs for radio-controlled models. Units are in the "
        "names of the fields."
    ),
    renderer=FastJson(),
    auth=FromOurPage(),
)
errors.install(api)
api.add_router("", gear_router)
api.add_router("", offer_router)
api.add_router("", kind_router)
api.add_router("", file_router)
api.add_router("", sizing_router)
api.add_router("", logs_router)
api.add_router("", matching_router)
api.add_router("", bench_router)
api.add_router("", charges_router)
api.add_router("", keeping_router)
api.add_router("", running_router)
api.add_router("", rules_router)
api.add_router("", place_router)
api.add_router("", safety_router)
api.add_router("", worlds_router)
api.add_router("", pairing_router)
api.add_router("", page_router)
api.add_router("", tomorrow_router)
api.add_router("", drawings_router)
api.add_router("", practice_router)


@api.get("/health", response=ServerHealth, tags=["program"], summary="Whether the server answers")
def health(request: HttpRequest) -> ServerHealth:
    """Answers without touching the database."""
    return ServerHealth(status="ok", version=__version__)
