"""A friend's pack, at the field: taken in by one line, given back with its history kept, and taken in again
with it."""

from __future__ import annotations

from dataclasses import dataclass

from django.db import transaction

from coldstack.core.errors import DomainError
from coldstack.core.labels.lent import is_the_same, read_lent
from coldstack.core.packs.pack import Pack
from coldstack.server.gear.actions import record, remove, store
from coldstack.server.gear.assemble import pack_of
from coldstack.server.gear.kinds import KINDS, clean, row_of
from coldstack.server.gear.models import Change, OwnedPack
from coldstack.server.gear.schemas import PackIn


@dataclass(frozen=True, slots=True)
class Lent:
    """The pack as it is in the box now, what was assumed of it in words, and whether it was here before."""

    tag: str
    change: Change
    assumed: list[str]
    again: bool


@transaction.atomic
def take_in(line: str, key: str | None = None) -> Lent:
    """A pack of unknown past by its tag and label; one that was here comes back with its history. Said twice
    under one key it is done once.

    Raises
    ------
    DomainError
        For a line that tells no pack, or a tag that another pack bears.
    """
    tag, offer = read_lent(line)
    if key is not None and (done := Change.objects.filter(key=key).first()) is not None:
        row = OwnedPack.objects.get(pk=done.entries[0]["id"])
        if tag and row.tag != tag:
            raise DomainError("key", "Under this key another pack was taken in.")
        return Lent(row.tag, done, offer.assumed, again=False)
    figures = PackIn.model_validate({**offer.pack, "tag": tag, "unknown_past": True, "note": "lent"})
    if tag and OwnedPack.live.filter(tag=tag).exists():
        raise DomainError("line", f"There is a pack {tag} in the box already. Choose another tag.")
    known = _was_here(tag, pack_of(clean(KINDS["packs"], figures), "")) if tag else None
    if known is not None:
        known.removed = None
        known.save(update_fields=["removed", "updated"])
        return Lent(tag, _remembered(known, f"Took {tag} in again", key), [], again=True)
    item = store(KINDS["packs"], figures)
    assert isinstance(item, OwnedPack)
    return Lent(item.tag, _remembered(item, f"Took {item.tag} in", key), offer.assumed, again=False)


def _was_here(tag: str, pack: Pack) -> OwnedPack | None:
    """The pack of this tag that was given back last, if it is this one."""
    rows = OwnedPack.objects.filter(tag=tag, unknown_past=True).exclude(removed=None)
    row = rows.order_by("-removed").first()
    return row if row is not None and is_the_same(pack_of(row_of(KINDS["packs"], row), ""), pack) else None


def _remembered(item: OwnedPack, label: str, key: str | None) -> Change:
    return record(label, [{"kind": "packs", "id": item.pk, "before": None}], key=key)


@transaction.atomic
def give_back(tag: str) -> Change:
    """It goes out of the box; its history stays.

    Raises
    ------
    DomainError
        For a pack that is not there, or is not lent: that is sold or deleted in *Gear*.
    """
    row = OwnedPack.live.filter(tag=tag).first()
    if row is None:
        raise DomainError("tag", f"There is no pack {tag} in the box.")
    if not row.unknown_past:
        raise DomainError("tag", f"{tag} is not lent. What is sold or thrown away is deleted in Gear.")
    made = remove(KINDS["packs"], row.pk)
    made.label = f"Gave {tag} back"
    made.save(update_fields=["label"])
    return made
