"""The Tarnside Model Club's models, packs, chargers and catalogue, into an empty database."""

from __future__ import annotations

import csv
import json
from importlib.resources import files
from typing import Any

from django.db import models, transaction
from django.utils import timezone

from coldstack.core.packs.keys import owned_key
from coldstack.demo.history import history
from coldstack.demo.practised import practised
from coldstack.server.bench.actions import keep_layout
from coldstack.server.bench.schemas import BenchIn
from coldstack.server.gear.kinds import KINDS, clean
from coldstack.server.gear.models import CataloguePack, CellType, OwnedPack, RcModel
from coldstack.server.keeping.actions import inspect
from coldstack.server.keeping.replies import VisualCheckIn
from coldstack.server.life.log import say_all
from coldstack.server.rules.models import Household
from coldstack.server.sizing.schemas import JobIn


@transaction.atomic
def load_if_empty() -> bool:
    """Load everything unless there is a model or a pack already; True if it was loaded. All or nothing."""
    if RcModel.objects.exists() or OwnedPack.objects.exists():
        return False
    for position, row in enumerate(json.loads(_text("models.json"))):
        job = JobIn(**{"name": row["name"], **row["job"]}).model_dump(mode="json")
        RcModel.objects.create(**{**row, "job": job, "position": position})
    _load(CataloguePack, "catalogue.csv")
    _load(OwnedPack, "owned.csv")
    _load(CellType, "cells.csv")
    for kind_id, rows in json.loads(_text("bench.json")).items():
        kind = KINDS[kind_id]
        kind.model.objects.bulk_create([kind.model(**clean(kind, row)) for row in rows])
    now = timezone.now()
    say_all([event for pack in OwnedPack.live.all() for event in history(pack, now)])
    Household.objects.create(
        pk=1,
        typical_packs=False,
        place="Boathouse loft",
        place_c=6,
        place_hottest_c=31,
        container="vented_box",
    )
    _lay_out(json.loads(_text("laid.json")))
    practised(now)
    return True


def _lay_out(rows: list[dict[str, Any]]) -> None:
    """The bench this evening: looked at, felt and read, as a person does it."""
    for row in rows:
        if row.get("looked", True):
            signs, warmth = row.get("signs", []), row.get("temperature_c")
            looked = VisualCheckIn(signs=signs, at_room=warmth is None, key=f"demo-looked-{row['tag']}")
            inspect(row["tag"], looked)
    read = ("cells", "temperature_c")
    laid = [{"pack": owned_key(r["tag"]), **{n: r[n] for n in read if n in r}} for r in rows]
    keep_layout(BenchIn.model_validate({"laid": laid}))


def _load(model: type[models.Model], name: str) -> None:
    rows = csv.DictReader(_text(name).splitlines())
    model._default_manager.bulk_create([model(**_typed(model, row)) for row in rows])


def _typed(model: type[models.Model], row: dict[str, str]) -> dict[str, Any]:
    """CSV cells as the model's fields take them; an empty cell of a field that allows it is null."""
    out: dict[str, Any] = {}
    for key, cell in row.items():
        field = model._meta.get_field(key)
        out[key] = None if cell == "" and getattr(field, "null", False) else field.to_python(cell)  # type: ignore[union-attr]
    return out


def _text(name: str) -> str:
    return (files("coldstack.demo") / name).read_text(encoding="utf-8")
