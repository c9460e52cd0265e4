"""A life as it is kept: how it stands, and from where it is told on, so that no event is told twice.

Its latest events are kept beside the state before them: what is told a little late still finds its place.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, fields

from coldstack.core.keeping.evidence import Evidence, plain
from coldstack.core.keeping.records import Record
from coldstack.core.life.events import Event, in_order
from coldstack.core.life.told import LifeState, PackHistory, told_on
from coldstack.core.packs.health import Level, StateOfHealth
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules

MADE = 2
"""Rises with whatever is told otherwise than before: what was kept by an older program is told anew."""
LATEST = 24
"""So many of the latest events are kept beside the state before them."""

Measured = list[tuple[Record, str]]


@dataclass
class KeptState:
    """How a life stands: its state and what health says, without what was measured. ``signs_found`` are id,
    level and sentence of each sign of its health, the worst first."""

    state: LifeState
    today: StateOfHealth
    signs_found: list[tuple[str, Level, str]]
    ahead: list[Event] = field(default_factory=list)
    gone: list[str] = field(default_factory=list)
    until: float | None = None


@dataclass
class KeptTail:
    """The state before the latest events, and those."""

    before: LifeState
    events: list[Event]


@dataclass
class KeptLife:
    """All that is kept of a life: how it stands, its tail, and what was measured before that."""

    now: KeptState
    tail: KeptTail
    measured: Measured


def kept_of(pack: Pack, rules: HouseRules, events: Iterable[Event], now: float) -> KeptLife:
    """A life told from all of its events, to be kept."""
    order = in_order(events, now)
    done = max(len(order.events) - LATEST, 0)
    early, late = order.events[:done], order.events[done:]
    base = told_on(PackHistory(pack=pack, rules=rules), in_order(early, now))
    return _kept(base, [*late, *order.ahead], order.gone, now)


def restored(pack: Pack, rules: HouseRules, now: KeptState, load: Callable[[], Measured]) -> PackHistory:
    """The life that was kept so; ``load`` brings all that was measured, if it is asked for."""
    life = _life(pack, rules, now.state, load)
    life.ahead, life.gone = tuple(now.ahead), frozenset(now.gone)
    life.until = math.inf if now.until is None else now.until
    signs = [Evidence(i, level, words, plain(words)) for i, level, words in now.signs_found]
    life.__dict__["evidence"] = (signs, [])
    life.__dict__["today"] = now.today
    return life


def told_again(pack: Pack, rules: HouseRules, kept: KeptLife, now: float) -> PackHistory:
    """The whole of a life that was kept: with all that was measured, and its latest events."""
    base = _life(pack, rules, kept.tail.before, lambda: list(kept.measured))
    base.gone = frozenset(kept.now.gone)
    return told_on(base, in_order([*kept.tail.events, *kept.now.ahead], now))


def _kept(base: PackHistory, latest: list[Event], gone: frozenset[str], now: float) -> KeptLife:
    life = told_on(base, in_order(latest, now))
    signs = [(e.id, e.level, e.sentence) for e in life.evidence[0]]
    until = None if math.isinf(life.until) else life.until
    standing = KeptState(_state(life), life.today, signs, list(life.ahead), sorted(gone), until)
    return KeptLife(standing, KeptTail(_state(base), list(life.events)), list(base.measured))


def _state(life: LifeState) -> LifeState:
    return LifeState(**{f.name: getattr(life, f.name) for f in fields(LifeState)})


def _life(pack: Pack, rules: HouseRules, state: LifeState, load: Callable[[], Measured]) -> PackHistory:
    known = {f.name: getattr(state, f.name) for f in fields(LifeState)}
    return PackHistory(**known, pack=pack, rules=rules, load=load)
