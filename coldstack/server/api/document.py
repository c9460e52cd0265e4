"""The OpenAPI document, put right where its generator does not know us."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from coldstack.server.api.access import SAFE

Schema = dict[str, Any]
_REF = "#/components/schemas/"


def put_right(document: Schema) -> None:
    """Errors come as problem+json; reading needs no token; a reply always carries every field it has."""
    for method, operation in _operations(document):
        if method.upper() in SAFE:
            operation.pop("security", None)
        for status, reply in operation["responses"].items():
            if int(status) >= 400 and "content" in reply:
                reply["content"] = {"application/problem+json": reply["content"].pop("application/json")}
    schemas = document["components"]["schemas"]
    asked = _reachable([x.get("requestBody", {}) for _, x in _operations(document)], schemas)
    for name, schema in schemas.items():
        # core's values have defaults, which a reply says like the rest
        if name not in asked and "properties" in schema:
            schema["required"] = list(schema["properties"])


def _operations(document: Schema) -> Iterator[tuple[str, Schema]]:
    for operations in document["paths"].values():
        yield from operations.items()


def _reachable(parts: Any, schemas: Schema) -> set[str]:
    """Names of the schemas that these parts of the document refer to, themselves or through others."""
    found: set[str] = set()
    waiting = [parts]
    while waiting:
        part = waiting.pop()
        if isinstance(part, dict):
            name = str(part.get("$ref", "")).removeprefix(_REF)
            if name in schemas and name not in found:
                found.add(name)
                waiting.append(schemas[name])
            waiting.extend(part.values())
        elif isinstance(part, list):
            waiting.extend(part)
    return found
