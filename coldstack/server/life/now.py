"""Every pack as it is now: events out of the database, told once and kept until something about the pack
changes. Nobody else decides how a pack stands."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from threading import Lock, RLock
from typing import Any

from django.utils import timezone

from coldstack.core.life.events import Event as EventValue
from coldstack.core.life.now import PackNow, as_it_is, now_of
from coldstack.core.life.told import PackHistory, told, told_with
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.kept import bring, kept_lives, marked, whole_of
from coldstack.server.life.values import event_values
from coldstack.server.rules.assemble import rules_or_house

PACKS_A_QUERY = 100


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
    telling: RLock = field(default_factory=RLock)


_kept = _Kept()
MOST_KEPT = 4000


def standings(
    *, tags: Sequence[str] | None = None, rules: HouseRules | None = None, now: datetime | None = None
) -> list[Standing]:
    """Every pack in the box as it is now, or those with these tags, by tag; by the house's rules. Two
    queries, and one more for a hundred packs that changed since they were asked for last."""
    rules, at = rules or rules_or_house(None), (now or timezone.now()).timestamp()
    packs = marked(OwnedPack.live.all() if tags is None else OwnedPack.live.filter(tag__in=tags))
    if any(_found(mark, pk, rules, at) is None for mark, pk, _, _ in packs):
        told_once([(mark, pk, pack) for mark, pk, _, pack in packs], rules, at)
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
    whole = whole_of(life)
    again = told_with(life if whole is None else whole.life(), new, at)
    return _standing(
        found.pk, found.tag, life.pack, again or _told_now(found.pk, life.pack, life.rules, at, new), at
    )


def at_hand(found: Iterable[Standing]) -> None:
    """Brings the whole of these packs' lives at once, for whoever tells more of each; one query."""
    bring(w for s in found if (w := whole_of(s.now.told)) is not None)


def moment(seconds: float | None) -> datetime | None:
    """A time of the core's as one of the API's."""
    return None if seconds is None else datetime.fromtimestamp(seconds, UTC)


def _found(mark: Any, pk: int, rules: HouseRules, at: float) -> PackHistory | None:
    known = _kept.lives.get((pk, rules))
    return known[1] if known and known[0] == mark and at < known[1].until else None


def told_once(wanted: Sequence[tuple[Any, int, Pack]], rules: HouseRules, at: float) -> None:
    """Tells what is not at hand of these, with the marks by which it holds; once, however many ask."""
    with _kept.telling:
        _tell([x for x in wanted if _found(x[0], x[1], rules, at) is None], rules, at)


def _tell(missing: Sequence[tuple[Any, int, Pack]], rules: HouseRules, at: float) -> None:
    """As it was kept, else from all events."""
    if not missing:
        return
    found = {pk: life for pk, life in kept_lives(missing, rules, at).items() if at < life.until}
    rest = [x for x in missing if x[1] not in found]
    for start in range(0, len(rest), PACKS_A_QUERY):
        part = rest[start : start + PACKS_A_QUERY]
        events = event_values([pk for _, pk, _ in part])
        found |= {pk: told(pack, events[pk], rules=rules, now=at) for _, pk, pack in part}
    with _kept.lock:
        if len(_kept.lives) > MOST_KEPT:
            _kept.lives.clear()
        for mark, pk, _ in missing:
            _kept.lives[(pk, rules)] = mark, found[pk]


def _told_now(
    pk: int, pack: Pack, rules: HouseRules, at: float, more: Sequence[EventValue] = ()
) -> PackHistory:
    """Told anew: another thread may have put in what it was asked at another time."""
    return told(pack, (*event_values([pk])[pk], *more), rules=rules, now=at)
