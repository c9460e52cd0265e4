"""Every pack as it is now: events out of the database, told once and kept until something about the pack
changes. Nobody else decides how a pack stands."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from threading import Lock
from typing import Any

from django.db.models import OuterRef, Subquery
from django.utils import timezone

from coldstack.core.life.events import Event as EventValue
from coldstack.core.life.now import PackNow, as_it_is, now_of
from coldstack.core.life.told import PackHistory, told
from coldstack.core.packs.keys import owned_key
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.server.gear.assemble import OWNED_FIGURES, pack_of
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from coldstack.server.rules.assemble import rules_or_house

PACKS_A_QUERY = 100
_PLAIN = (
    "kind",
    "by",
    "temperature_c",
    "at_room",
    "soc",
    "capacity_ah",
    "mah",
    "minutes",
    "balance_min",
    "landing_cell_v",
    "pack_v",
    "sure",
    "hands",
    "state",
    "ended",
    "charge",
    "model",
    "text",
    "cycle",
)
_LISTS = ("cell_v", "end_cell_v", "cell_mohm", "signs", "steps")


@dataclass(frozen=True, slots=True)
class Standing:
    """A pack of the box as it is now, with its row's key and its tag."""

    pk: int
    tag: str
    pack: Pack
    """With what it holds and resists today; one that is barred is not fit. As it is on its label it is
    ``now.told.pack``."""
    now: PackNow

    @property
    def since(self) -> datetime | None:
        """Since when it is so full."""
        return moment(self.now.told.since)


@dataclass(slots=True)
class _Kept:
    """Lives that were told, by pack and rules, with what they were told from."""

    lives: dict[tuple[int, HouseRules], tuple[Any, PackHistory]] = field(default_factory=dict)
    lock: Lock = field(default_factory=Lock)


_kept = _Kept()
MOST_KEPT = 4000


def standings(
    *, tags: Sequence[str] | None = None, rules: HouseRules | None = None, now: datetime | None = None
) -> list[Standing]:
    """Every pack in the box as it is now, or those with these tags, by tag; by the house's rules. Two
    queries, and one more for a hundred packs that changed since they were asked for last."""
    rules, at = rules or rules_or_house(None), (now or timezone.now()).timestamp()
    latest = Event.objects.filter(pack_id=OuterRef("pk")).order_by("-changed").values("changed")[:1]
    rows = OwnedPack.live.all() if tags is None else OwnedPack.live.filter(tag__in=tags)
    packs = [
        ((row["changed"], row["updated"]), row["id"], row["tag"], pack_of(row, owned_key(row["tag"])))
        for row in rows.annotate(changed=Subquery(latest)).values(
            "id", "tag", "updated", "changed", *OWNED_FIGURES
        )
    ]
    missing = [(mark, pk, pack) for mark, pk, _, pack in packs if _found(mark, pk, rules, at) is None]
    for start in range(0, len(missing), PACKS_A_QUERY):
        _tell(missing[start : start + PACKS_A_QUERY], rules, at)
    return [
        _standing(pk, tag, pack, _found(mark, pk, rules, at) or _told_now(pk, pack, rules, at), at)
        for mark, pk, tag, pack in packs
    ]


def _standing(pk: int, tag: str, pack: Pack, life: PackHistory, at: float) -> Standing:
    now = now_of(life, at)
    return Standing(pk, tag, as_it_is(pack, now), now)


def standing_of(tag: str, *, rules: HouseRules | None = None, now: datetime | None = None) -> Standing:
    """One pack; raises OwnedPack.DoesNotExist for a tag that no pack bears."""
    for found in standings(tags=[tag], rules=rules, now=now):
        return found
    raise OwnedPack.DoesNotExist(f"There is no pack {tag} in the box.")


def standing_with(found: Standing, more: Iterable[EventValue], *, now: datetime) -> Standing:
    """The same pack as if this had been said of it too; what was said and withdrawn is not said again."""
    life, at = found.now.told, now.timestamp()
    new = [e for e in more if e.key not in life.gone]
    again = told(life.pack, (*life.events, *life.ahead, *new), rules=life.rules, now=at)
    return _standing(found.pk, found.tag, life.pack, again, at)


def moment(seconds: float | None) -> datetime | None:
    """A time of the core's as one of the API's."""
    return None if seconds is None else datetime.fromtimestamp(seconds, UTC)


def event_values(pack_pks: Sequence[int]) -> dict[int, list[EventValue]]:
    """All events of these packs but notes, withdrawn ones too; one query."""
    out: dict[int, list[EventValue]] = {pk: [] for pk in pack_pks}
    rows = Event.objects.filter(pack_id__in=pack_pks).exclude(kind="note")
    columns = ("pack_id", "pk", "key", "at", "said", "withdrawn", *_PLAIN, *_LISTS)
    for pk, number, key, at, said, withdrawn, *more in rows.values_list(*columns):
        told: dict[str, Any] = dict(zip(_PLAIN, more, strict=False))
        told |= {n: tuple(v or ()) for n, v in zip(_LISTS, more[len(_PLAIN) :], strict=True)}
        told |= {"at": at.timestamp(), "said": said.timestamp(), "withdrawn": withdrawn is not None}
        out[pk].append(EventValue(key=key, number=number, **told))
    return out


def _found(mark: Any, pk: int, rules: HouseRules, at: float) -> PackHistory | None:
    known = _kept.lives.get((pk, rules))
    return known[1] if known and known[0] == mark and at < known[1].until else None


def _tell(missing: Sequence[tuple[Any, int, Pack]], rules: HouseRules, at: float) -> None:
    events = event_values([pk for _, pk, _ in missing])
    with _kept.lock:
        if len(_kept.lives) > MOST_KEPT:
            _kept.lives.clear()
        for mark, pk, pack in missing:
            _kept.lives[(pk, rules)] = mark, told(pack, events[pk], rules=rules, now=at)


def _told_now(pk: int, pack: Pack, rules: HouseRules, at: float) -> PackHistory:
    """Told anew: another thread may have put in what it was asked at another time."""
    return told(pack, event_values([pk])[pk], rules=rules, now=at)
