"""What one can do with gear: each in one transaction, each remembered so that it can be undone."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone
from django.utils.text import slugify

from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import Pack
from coldstack.server.api.hands import hands_now
from coldstack.server.api.versions import ANY, require_latest
from coldstack.server.gear.assemble import PACK_FIGURES, Row
from coldstack.server.gear.changes import stamp
from coldstack.server.gear.kinds import KINDS, GearKind, clean, kind_of, row_of
from coldstack.server.gear.models import CataloguePack, Change, Gear, OwnedPack, OwnPlug, RcModel
from coldstack.server.gear.plugs import plug_code, read_own_plugs, require_unused
from coldstack.server.gear.schemas import CataloguePackIn
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import In, JobIn


@transaction.atomic
def save_job(slug: str, job: JobIn, made_from: str = ANY) -> RcModel:
    """Keep a model's job, after the core has accepted it.

    Raises
    ------
    DomainError
        For figures that cannot be.
    ChangedElsewhere
        If it was made from another version than the one that is kept.
    RcModel.DoesNotExist
        For an unknown model.
    """
    job_of(job)
    model = RcModel.live.get(slug=slug)
    require_latest(made_from, model.job)
    model.job = job.model_dump(mode="json")
    model.save(update_fields=["job", "updated"])
    return model


@transaction.atomic
def add(kind: GearKind, data: In) -> tuple[Gear, Change]:
    """Store a new one.

    Raises
    ------
    DomainError
        For figures that cannot be, or a tag that another pack bears.
    """
    return _add(kind, clean(kind, data), f"Added {kind.one} {{}}")


@transaction.atomic
def change(kind: GearKind, pk: int, data: In, made_from: str = ANY) -> tuple[Gear, Change]:
    """Replace all fields of one; raises as `add`, DoesNotExist for one that is not there, ChangedElsewhere
    for one that is not as it was when this was made from it."""
    item = kind.model.live.get(pk=pk)
    require_latest(made_from, row_of(kind, item))
    return _changed(kind, item, clean(kind, data))


@transaction.atomic
def change_some(kind: GearKind, pk: int, part: dict[str, Any], made_from: str = ANY) -> tuple[Gear, Change]:
    """Change the fields given and leave the others as they are by now; raises as `change`."""
    item = kind.model.live.get(pk=pk)
    require_latest(made_from, row_of(kind, item))
    row = {**row_of(kind, item), **part}
    if "assumed" in row and "assumed" not in part:
        row["assumed"] = [f for f in row["assumed"] if f not in part]
    if kind.id == "models" and "name" in part and "job" not in part:
        row["job"] = {**row["job"], "name": part["name"]}
    return _changed(kind, item, clean(kind, row))


def _changed(kind: GearKind, item: Gear, row: Row) -> tuple[Gear, Change]:
    if not row[kind.key]:
        raise DomainError(kind.key, "This field is needed.")
    if kind.address:  # one that was given out stays
        row[kind.address] = row_of(kind, item)[kind.address]
    before = {name: value for name, value in row_of(kind, item).items() if value != row[name]}
    _store(kind, item, row)
    return item, _remember(f"Changed {kind.one} {kind.label(row)}", [_entry(kind, item.pk, before)])


@transaction.atomic
def copy(kind: GearKind, pk: int) -> tuple[Gear, Change]:
    """Store its twin under a free tag or name."""
    return _add(kind, twin(kind, pk), f"Copied to {kind.one} {{}}")


def twin(kind: GearKind, pk: int) -> Row:
    """A new row with what a twin shares, under a free tag or name; what is this one's own is as nobody
    had said it."""
    row = row_of(kind, kind.model.live.get(pk=pk))
    for name in kind.own:
        row[name] = kind.schema.model_fields[name].get_default(call_default_factory=True)
    if kind.key == "tag":
        row["tag"] = free_tag(row["tag"])
    else:
        row["name"] = _free_name(kind, row["name"])
    if kind.address:
        row[kind.address] = ""
    if "job" in row:
        row["job"] = {**row["job"], "name": row["name"]}
    return row


@transaction.atomic
def remove(kind: GearKind, pk: int) -> Change:
    """Take one out of everything; it stays in the table, so that its log is kept and undoing brings it
    back."""
    item = kind.model.live.get(pk=pk)
    return _remember(f"Deleted {kind.one} {kind.label(row_of(kind, item))}", _removed(kind, [item]))


@transaction.atomic
def remove_many(kind: GearKind, pks: list[int]) -> Change:
    """Take several out at once, all or none; those that have gone already are passed over.

    Raises
    ------
    DomainError
        If none of them is there, or something names one of them.
    """
    items = list(kind.model.live.filter(pk__in=pks).order_by("pk"))
    if not items:
        raise DomainError("ids", "None of these is there any more.")
    what = kind.label(row_of(kind, items[0])) if len(items) == 1 else f"{len(items)} {kind.many}"
    return _remember(f"Deleted {what}", _removed(kind, items))


def _removed(kind: GearKind, items: list[Gear]) -> list[dict[str, Any]]:
    now = timezone.now()
    for item in items:
        item.removed = now
        item.save(update_fields=["removed", "updated"])
    # asked once all have gone: two that name each other may go together
    for item in items:
        if isinstance(item, OwnPlug):
            require_unused(item.code)
    return [_entry(kind, item.pk, {"removed": None}) for item in items]


@transaction.atomic
def take_offers(rows: list[CataloguePackIn]) -> tuple[int, Change | None]:
    """Put pasted offers beside what can be bought; how many were new. One that stands there already is
    not put there twice.

    Raises
    ------
    DomainError
        For figures that cannot be; nothing is stored then.
    """
    kind = KINDS["catalogue"]
    there = [row_of(kind, item) for item in CataloguePack.live.filter(offer=True)]
    new: list[Row] = []
    for data in rows:
        row = clean(kind, data.model_copy(update={"offer": True}))
        if row not in there and row not in new:
            new.append(row)
    items = [CataloguePack.objects.create(**row) for row in new]
    if not items:
        return 0, None
    what = f"Offer {items[0].name}" if len(items) == 1 else f"{len(items)} offers"
    return len(items), _remember(
        f"Added {what[:1].lower()}{what[1:]}", [_entry(kind, i.pk, None) for i in items]
    )


@transaction.atomic
def buy(pk: int, tag: str) -> tuple[OwnedPack, Change]:
    """A pack that could be bought is owned now, under this tag or the next free one; an offer is gone
    with that. One step to undo.

    Raises
    ------
    DomainError
        For a tag that another pack bears.
    """
    item, entries = _bought(CataloguePack.live.get(pk=pk), tag)
    return item, _remember(f"Bought {KINDS['packs'].label(row_of(KINDS['packs'], item))}", entries)


@transaction.atomic
def buy_several(sold: Sequence[CataloguePack | Pack]) -> tuple[list[OwnedPack], Change]:
    """Packs of the catalogue, and typical ones, are owned now under the next free tags: all or none, and one
    step to undo."""
    items, entries = [], []
    for one in sold:
        item, made = _bought(one, "") if isinstance(one, CataloguePack) else _bought_typical(one)
        items.append(item)
        entries += made
    tags = ", ".join(item.tag for item in items)
    return items, _remember(f"Bought {tags}", entries)


def _bought(sold: CataloguePack, tag: str) -> tuple[OwnedPack, list[dict[str, Any]]]:
    """One that could be bought, owned; an offer is gone with that, and what was done to the rows."""
    shelf = KINDS["catalogue"]
    figures = {f: v for f, v in row_of(shelf, sold).items() if f in KINDS["packs"].fields}
    item, entries = _owned(figures, tag, f"bought at {sold.shop}" if sold.shop else "")
    return item, entries + (_removed(shelf, [sold]) if sold.offer else [])


def _bought_typical(pack: Pack) -> tuple[OwnedPack, list[dict[str, Any]]]:
    """One that is typical of what is sold, owned with its figures; those that nobody gave stay assumed."""
    box = KINDS["packs"]
    figures = {f: getattr(pack, f) for f in PACK_FIGURES if f in box.fields and f != "assumed"}
    return _owned({**figures, "assumed": sorted(pack.assumed)}, "", "")


def _owned(figures: Row, tag: str, note: str) -> tuple[OwnedPack, list[dict[str, Any]]]:
    box = KINDS["packs"]
    item = OwnedPack(**completed(box, {**figures, "tag": tag.strip(), "fit": True, "note": note}))
    _store(box, item, {})
    return item, [_entry(box, item.pk, None)]


@transaction.atomic
def undo(pk: int) -> Change:
    """Undo a change: rows it made go, values it changed come back.

    Raises
    ------
    DomainError
        If it was undone before, or something newer touched the same rows, or a tag was given away since.
    """
    made = Change.objects.get(pk=pk)
    if made.undone:
        raise DomainError("id", "This was undone before.")
    _refuse_newer(made)
    made.after = [_stands(e) for e in made.entries]
    _put(made.entries, "Another pack bears this tag now. Change its tag, then undo.")
    made.undone = True
    made.save(update_fields=["undone", "after"])
    return made


@transaction.atomic
def redo(pk: int) -> Change:
    """Do a change again that was undone: what stood there when it was taken back stands there again.

    Raises
    ------
    DomainError
        If it was not undone, or something newer touched the same rows, or a tag was given away since.
    """
    made = Change.objects.get(pk=pk)
    if not made.undone or made.after is None:
        raise DomainError("id", "This was not undone.")
    _refuse_newer(made)
    _put(made.after, "Another pack bears this tag now. Change its tag first.")
    made.undone, made.after = False, None
    made.save(update_fields=["undone", "after"])
    return made


def _refuse_newer(made: Change) -> None:
    touched = {(e["kind"], e["id"]) for e in made.entries}
    for later in Change.objects.filter(pk__gt=made.pk, undone=False):
        if touched & {(e["kind"], e["id"]) for e in later.entries}:
            raise DomainError("id", f"Newer than this, and about the same: “{later.label}”. Undo that first.")


def _stands(entry: dict[str, Any]) -> dict[str, Any]:
    """What an entry puts back as it is now; a row that it takes away is to come back as it was."""
    names = ["removed"] if entry["before"] is None else list(entry["before"])
    now = KINDS[entry["kind"]].model.objects.filter(pk=entry["id"]).values(*names).get()
    return {**entry, "before": {k: v.isoformat() if isinstance(v, datetime) else v for k, v in now.items()}}


def _put(entries: list[dict[str, Any]], taken: str) -> None:
    """The values of entries put in their rows; ``taken`` is said where another pack bears the tag."""
    try:
        with transaction.atomic():
            for kind_id, group in _by_kind(entries).items():
                _put_rows(KINDS[kind_id], group)
    except IntegrityError:
        raise DomainError("tag", taken) from None


def free_tag(like: str) -> str:
    """The next number that no pack bears, written like the others."""
    taken = set(OwnedPack.live.values_list("tag", flat=True))
    width = len(like) if like.isdigit() else 2
    number = 1
    while str(number).zfill(width) in taken:
        number += 1
    return str(number).zfill(width)


def free_slug(name: str) -> str:
    """An address for a model that no other has, removed ones included."""
    base = slugify(name)[:40] or "model"
    taken = set(RcModel.objects.filter(slug__startswith=base).values_list("slug", flat=True))
    return next(s for s in (base, *(f"{base}-{n}" for n in range(2, 10_000))) if s not in taken)


def free_code(like: str) -> str:
    """A code for a plug that no other has."""
    taken = set(OwnPlug.live.values_list("code", flat=True))
    return next(c for c in (f"{like[:17]}_{n}" for n in range(2, 10_000)) if c not in taken)


def completed(kind: GearKind, row: dict[str, Any]) -> dict[str, Any]:
    """A new row with what its table needs beside the fields of the kind."""
    if kind.id == "packs" and not row["tag"]:
        return {**row, "tag": free_tag("01")}
    if kind.id == "plugs":
        code = row["code"] or plug_code(row["name"])
        return {**row, "code": code if not OwnPlug.live.filter(code=code).exists() else free_code(code)}
    if kind.id != "models":
        return row
    slug = (
        row["slug"]
        if row["slug"] and not RcModel.objects.filter(slug=row["slug"]).exists()
        else free_slug(row["name"])
    )
    return {**row, "slug": slug, "position": RcModel.objects.count()}


def store(kind: GearKind, data: In) -> Gear:
    """Store a new one as part of an act that remembers more; raises as `add`."""
    return _new(kind, clean(kind, data))


def record(label: str, entries: list[dict[str, Any]], *, key: str | None = None) -> Change:
    """Remember a change that touched many rows, under its key where it may be said twice."""
    return _remember(label, entries, key)


def _new(kind: GearKind, row: Row) -> Gear:
    item = kind.model(**completed(kind, row))
    _store(kind, item, {})
    return item


def _add(kind: GearKind, row: dict[str, Any], label: str) -> tuple[Gear, Change]:
    item = _new(kind, row)
    return item, _remember(label.format(kind.label(row_of(kind, item))), [_entry(kind, item.pk, None)])


def _store(kind: GearKind, item: Gear, row: dict[str, Any]) -> None:
    for name, value in row.items():
        setattr(item, name, value)
    try:
        with transaction.atomic():
            item.save()
    except IntegrityError:
        raise DomainError(
            kind.key, f"Another {kind.one} is “{getattr(item, kind.key)}”. Choose another {kind.key}."
        ) from None


def _free_name(kind: GearKind, name: str) -> str:
    taken = set(kind.model.live.values_list(kind.key, flat=True))
    stem = name[:68]
    return next(
        n for n in (f"{stem} (copy)", *(f"{stem} (copy {k})" for k in range(2, 10_000))) if n not in taken
    )


def _entry(kind: GearKind, pk: int, before: dict[str, Any] | None) -> dict[str, Any]:
    return {"kind": kind.id, "id": pk, "before": before}


def _remember(label: str, entries: list[dict[str, Any]], key: str | None = None) -> Change:
    return Change.objects.create(label=label[:200], entries=entries, hands=hands_now(), key=key)


def _by_kind(entries: list[dict[str, Any]]) -> dict[str, list[dict[str, Any]]]:
    grouped: dict[str, list[dict[str, Any]]] = {}
    for entry in entries:
        grouped.setdefault(kind_of(entry["kind"]).id, []).append(entry)
    return grouped


def _put_rows(kind: GearKind, entries: list[dict[str, Any]]) -> None:
    made = [e["id"] for e in entries if e["before"] is None]
    now = timezone.now()
    if kind.id == "plugs":
        going = [e["id"] for e in entries if e["before"] is None or e["before"].get("removed")]
        for code in OwnPlug.live.filter(pk__in=going).values_list("code", flat=True):
            require_unused(code)
    # withdrawn, not deleted: a pack may have runs, notes and checks by now
    for start in range(0, len(made), 500):
        kind.model.objects.filter(pk__in=made[start : start + 500]).update(removed=now, updated=stamp())
    for entry in entries:
        if entry["before"] is not None:
            item = kind.model.objects.get(pk=entry["id"])
            for name, value in entry["before"].items():
                setattr(item, name, value)
            if item.removed is None:  # what it names may have gone since
                kind.check(row_of(kind, item))
            item.save()
    if kind.id == "plugs":
        read_own_plugs()
