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
from coldstack.server.bench.routes import router as bench_router
from coldstack.server.gear.file_routes import router as file_router
from coldstack.server.gear.kind_routes import router as kind_router
from coldstack.server.gear.offer_routes import router as offer_router
from coldstack.server.gear.routes import router as gear_router
from coldstack.server.logbook.routes import router as logbook_router
from coldstack.server.logs.routes import router as logs_router
from coldstack.server.matching.routes import router as matching_router
from coldstack.server.rules.routes import router as rules_router
from coldstack.server.sizing.routes import router as sizing_router
from coldstack.server.worlds.routes import router as worlds_router


class FastJson(BaseRenderer):
    """JSON by orjson: quick with long columns of numbers; NaN becomes null, never an invalid word."""

    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        """The reply's body."""
        return orjson.dumps(data)


class Health(BaseModel):
    """Whether the server answers, and which version it is."""

    status: str
    version: str


class Api(NinjaAPI):
    """The API, whose document says that errors come as problem+json."""

    def get_openapi_schema(self, **options: Any) -> OpenAPISchema:
        """The OpenAPI document."""
        schema = super().get_openapi_schema(**options)
        for operations in schema["paths"].values():
            for operation in operations.values():
                for status, reply in operation["responses"].items():
                    if int(status) >= 400 and "content" in reply:
                        reply["content"] = {
                            "application/problem+json": reply["content"].pop("application/json")
                        }
        return schema


api = Api(
    title="Cold Stack",
    version=__version__,
    description="Choosing, charging and keeping battery packs for radio-controlled models. Units are in the names of the fields.",
    renderer=FastJson(),
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
api.add_router("", logbook_router)
api.add_router("", rules_router)
api.add_router("", worlds_router)


@api.get("/health", response=Health, tags=["program"], summary="Whether the server answers")
def health(request: HttpRequest) -> Health:
    """Answers without touching the database."""
    return Health(status="ok", version=__version__)
