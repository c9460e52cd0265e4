"""Imports of gear: first what one would do, row by row; then all of it or nothing, in one transaction."""

from __future__ import annotations

import itertools
from collections import Counter
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

from django.db import transaction
from pydantic import ValidationError

from coldstack.core.chain.own_plugs import with_plugs
from coldstack.core.chain.plugs import PlugFamily
from coldstack.core.errors import DomainError, SeveralErrors
from coldstack.server.api.errors import words_of
from coldstack.server.gear.actions import completed, record
from coldstack.server.gear.asking import asked_of_row
from coldstack.server.gear.changes import stamp
from coldstack.server.gear.csv_words import Column, value_of
from coldstack.server.gear.file_reading import FileRow
from coldstack.server.gear.kinds import KINDS, GearKind, clean, row_of
from coldstack.server.gear.models import Change, Gear
from coldstack.server.gear.plugs import plug_of, read_own_plugs
from coldstack.server.gear.progress import Progress
from coldstack.server.gear.schemas import PlugIn
from coldstack.server.gear.templates import EXAMPLES, HEADERS

BATCH = 250
SHOWN_PROBLEMS = 200
SHOWN_SAMPLES = 8


@dataclass(frozen=True, slots=True)
class Trouble:
    """Why a row cannot be taken."""

    place: str
    field: str
    message: str


@dataclass(slots=True)
class Plan:
    """What an import would do.

    ``add`` are new rows, ``change`` stored ones with their new values; ``same`` need nothing.
    """

    add: list[tuple[GearKind, dict[str, Any]]] = field(default_factory=list)
    change: list[tuple[GearKind, Gear, dict[str, Any]]] = field(default_factory=list)
    same: int = 0
    troubles: list[Trouble] = field(default_factory=list)
    rows: int = 0
    notes: list[str] = field(default_factory=list)
    """What to know of it: columns left out, figures that had no unit, and what looks like a slip."""

    @property
    def samples(self) -> list[str]:
        """The first few rows by name, with what becomes of them."""
        new = [f"new: {kind.label(row)}" for kind, row in self.add[:SHOWN_SAMPLES]]
        changed = [f"changes: {kind.label(row)}" for kind, _, row in self.change[:SHOWN_SAMPLES]]
        return (new + changed)[:SHOWN_SAMPLES]


def plan_import(rows: list[FileRow], progress: Progress) -> Plan:
    """What these rows would do: each is checked by the core, and compared with what is stored under its tag
    or name."""
    with with_plugs(_brought(rows)):
        return _planned(rows, progress)


def _brought(rows: list[FileRow]) -> list[PlugFamily]:
    """Plug families that the file brings, which its packs and pieces may name; wrong ones are reported
    with their rows."""
    found = []
    for row in rows:
        if row.kind.id == "plugs":
            with suppress(ValidationError, DomainError):
                found.append(plug_of(PlugIn.model_validate(row.values).model_dump()))
    return found


def _planned(rows: list[FileRow], progress: Progress) -> Plan:
    plan = Plan(rows=len(rows))
    stored = {kind_id: _stored(KINDS[kind_id]) for kind_id in {r.kind.id for r in rows}}
    seen: dict[tuple[str, str], str] = {}
    untagged: list[dict[str, Any]] = []
    for i, row in enumerate(rows):
        if i % BATCH == 0:
            progress.at("checking", i, len(rows))
        values = _checked(row, plan)
        if values is None:
            continue
        key = (row.kind.id, str(values[row.kind.key]))
        if not key[1] and row.kind.key == "tag":
            untagged.append(values)
            continue
        if not key[1]:
            plan.troubles.append(Trouble(row.place, row.kind.key, "This field is needed."))
            continue
        if key in seen:
            plan.troubles.append(
                Trouble(row.place, row.kind.key, f"“{key[1]}” is there twice: first at {seen[key]}.")
            )
            continue
        seen[key] = row.place
        _sort(plan, row.kind, values, stored[row.kind.id].get(key[1]))
    _give_tags(plan, untagged, stored.get("packs", {}), {tag for kind, tag in seen if kind == "packs"})
    progress.at("checking", len(rows), len(rows))
    plan.notes = _slips(plan)
    return plan


def _slips(plan: Plan) -> list[str]:
    """What looks like a slip in what is new or changes: told before it is stored, and refused nothing for."""
    found = [
        f"{kind.label(row)}: {q.sentence}"
        for kind, row in (*plan.add, *((k, row) for k, _, row in plan.change))
        for q in asked_of_row(kind.id, row)
    ]
    more = len(found) - SHOWN_SAMPLES
    return [*found[:SHOWN_SAMPLES], *([f"And {more} more look like slips."] if more > 0 else [])]


def _give_tags(plan: Plan, untagged: list[dict[str, Any]], stored: dict[str, Gear], named: set[str]) -> None:
    """Packs without a tag get the next free numbers; one that is just like a stored pack is that one, so
    that a file brought in twice adds nothing the second time."""
    kind = KINDS["packs"]
    alike: dict[str, int] = Counter(
        _but_for_its_tag(row_of(kind, item)) for tag, item in stored.items() if tag not in named
    )
    taken = {*stored, *named}
    numbers = (str(n).zfill(2) for n in itertools.count(1))
    for values in untagged:
        like = _but_for_its_tag(values)
        if alike.get(like, 0) > 0:
            alike[like] -= 1
            plan.same += 1
            continue
        tag = next(n for n in numbers if n not in taken)
        plan.add.append((kind, {**values, "tag": tag}))


def _but_for_its_tag(row: dict[str, Any]) -> str:
    return repr(sorted((k, v) for k, v in row.items() if k != "tag"))


@transaction.atomic
def store(plan: Plan, name: str, progress: Progress) -> Change:
    """Store all of a plan. One transaction: killed in the middle, none of it is there.

    Raises
    ------
    DomainError
        If the plan has rows that cannot be taken; nothing is stored then.
    """
    if plan.troubles:
        raise DomainError("file", f"{len(plan.troubles)} rows cannot be taken; nothing was stored.")
    entries: list[dict[str, Any]] = []
    total = len(plan.add) + len(plan.change)
    for kind in KINDS.values():
        new = [row for k, row in plan.add if k is kind]
        for start in range(0, len(new), BATCH):
            progress.at("storing", len(entries), total)
            entries += _create(kind, new[start : start + BATCH])
        changed = [(item, row) for k, item, row in plan.change if k is kind]
        for start in range(0, len(changed), BATCH):
            progress.at("storing", len(entries), total)
            entries += _update(kind, changed[start : start + BATCH])
    progress.at("storing", total, total)
    transaction.on_commit(read_own_plugs)
    return record(f"Imported {name}: {len(plan.add)} new, {len(plan.change)} changed", entries)


def _stored(kind: GearKind) -> dict[str, Gear]:
    return {str(getattr(item, kind.key)): item for item in kind.model.live.all()}


def _checked(row: FileRow, plan: Plan) -> dict[str, Any] | None:
    if "(row)" in row.values:
        plan.troubles.append(Trouble(row.place, "", f"This row cannot be read: {row.values['(row)']}."))
        return None
    try:
        return clean(row.kind, row.values)
    except ValidationError as error:
        bad = {str(wrong["loc"][0]) for wrong in error.errors()}
        for wrong in error.errors():
            path = ".".join(str(p) for p in wrong["loc"])
            plan.troubles.append(Trouble(row.place, path, words_of(dict(wrong), wrong.get("input"))))
        plan.troubles += [Trouble(row.place, e.field, e.sentence) for e in _also_wrong(row, bad)]
    except SeveralErrors as several:
        plan.troubles += [Trouble(row.place, e.field, e.sentence) for e in several.errors]
    except DomainError as error:
        plan.troubles.append(Trouble(row.place, error.field, error.sentence))
    return None


def _also_wrong(row: FileRow, bad: set[str]) -> list[DomainError]:
    """What the core has against the fields that have the right shape, while an example stands in for the
    others: so that all that is wrong with a row is said at once."""
    examples = EXAMPLES.get(row.kind.id)
    if examples is None:
        return []
    needed = {n for n, f in row.kind.schema.model_fields.items() if f.is_required()}
    stand_in: dict[str, Any] = {}
    for name in bad & needed:
        stand_in |= value_of(row.kind, Column(HEADERS[row.kind.id][name], name), str(examples[0][name]))
    try:
        clean(
            row.kind,
            {**{k: v for k, v in row.values.items() if k not in bad and k in row.kind.fields}, **stand_in},
        )
    except SeveralErrors as several:
        return [e for e in several.errors if e.field not in bad]
    except DomainError as error:
        return [error] if error.field not in bad else []
    except ValidationError:
        return []
    return []


def _sort(plan: Plan, kind: GearKind, values: dict[str, Any], item: Gear | None) -> None:
    if item is None:
        plan.add.append((kind, values))
        return
    if kind.address and not values[kind.address]:
        values[kind.address] = row_of(kind, item)[kind.address]
    if row_of(kind, item) == values:
        plan.same += 1
    else:
        plan.change.append((kind, item, values))


def _create(kind: GearKind, rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    if kind.address:  # their addresses depend on each other
        made = []
        for row in rows:
            item = kind.model(**completed(kind, row))
            item.save()
            made.append(item)
    else:
        made = kind.model.objects.bulk_create([kind.model(**row) for row in rows])
    return [{"kind": kind.id, "id": item.pk, "before": None} for item in made]


def _update(kind: GearKind, rows: list[tuple[Gear, dict[str, Any]]]) -> list[dict[str, Any]]:
    entries = []
    for item, row in rows:
        before = {name: value for name, value in row_of(kind, item).items() if value != row[name]}
        entries.append({"kind": kind.id, "id": item.pk, "before": before})
        for name, value in row.items():
            setattr(item, name, value)
        item.updated = stamp()  # a bulk update sets no times of its own, and sizing looks at them
    kind.model.objects.bulk_update([item for item, _ in rows], [*kind.fields, "updated"])
    return entries
