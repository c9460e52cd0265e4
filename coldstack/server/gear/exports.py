"""Gear as files: CSV of packs, catalogue or cells; JSON of everything."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

from coldstack.server.api.shapes import described
from coldstack.server.gear.csv_cells import NONE, csv_out
from coldstack.server.gear.file_reading import FORMAT_NAME, FORMAT_VERSION
from coldstack.server.gear.kinds import KINDS, GearKind, row_of


def csv_text(kind: GearKind) -> str:
    """All rows of a kind, a header first; empty cells for what is not known, 1 and 0 for yes and no."""
    usual = [f.get_default(call_default_factory=True) for f in kind.schema.model_fields.values()]
    rows = (row_of(kind, item).values() for item in kind.model.live.all())
    # an empty cell means the usual; where that is a list, no entry at all has a word of its own
    return csv_out(
        kind.fields, ([NONE if v == [] and u else v for v, u in zip(row, usual, strict=True)] for row in rows)
    )


def json_text(at: datetime) -> str:
    """Everything, in the versioned format."""
    body: dict[str, Any] = {
        "format": FORMAT_NAME,
        "version": FORMAT_VERSION,
        "exported": at.isoformat(timespec="seconds"),
    }
    for kind in KINDS.values():
        body[kind.id] = [row_of(kind, item) for item in kind.model.live.all()]
    return json.dumps(body, ensure_ascii=False, indent=1) + "\n"


def json_schema() -> dict[str, Any]:
    """JSON Schema of the format, made from the shapes that the API checks by."""
    sections: dict[str, Any] = {}
    definitions: dict[str, Any] = {}
    for kind in KINDS.values():
        schema = kind.schema.model_json_schema(ref_template="#/$defs/{model}")
        definitions |= schema.pop("$defs", {})
        definitions[kind.schema.__name__] = described(schema, kind.schema)
        sections[kind.id] = {"type": "array", "items": {"$ref": f"#/$defs/{kind.schema.__name__}"}}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Cold Stack gear",
        "type": "object",
        "required": ["format", "version"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": FORMAT_NAME},
            "version": {"const": FORMAT_VERSION},
            "exported": {"type": "string"},
            **sections,
        },
        "$defs": definitions,
    }
