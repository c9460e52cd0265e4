"""What the events of a pack's life tell of it: how full it is, its cells, its records, what stands against
it. Everything but what passes with time."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, fields, replace
from functools import cached_property
from statistics import median

from coldstack.core.asking.runs import most_put_back
from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.charging.inspection import SIGNS
from coldstack.core.errors import DomainError
from coldstack.core.keeping.evidence import Evidence
from coldstack.core.keeping.health import Health, evidence_of, health, state_of_health
from coldstack.core.keeping.records import Record
from coldstack.core.keeping.retire import RETIRE_STEPS
from coldstack.core.life.events import By, Event, EventOrder, Moment, in_order, moment_of
from coldstack.core.packs.health import Level, StateOfHealth
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import (
    PackReading,
    State,
    highest_possible_v,
    least_left,
    pack_reading,
    state_after_run,
    state_at,
    storage_soc,
    whole_reading,
)
from coldstack.core.rules.house_rules import HouseRules, for_chemistry

DAY_S = 86_400.0
RECORDS_WANTED = 3
"""So many charges, runs or checks tell enough of a pack of unknown past. House figure."""
LOW_CELL = "low_cell"
"""The sign that a reading of each cell answers."""


@dataclass
class LifeState:
    """What the events of a life have told by now: all that the next event changes. Times in seconds since
    1970, None where nothing tells.

    ``charge`` is how full it is in a word, ``since`` when it was brought there; ``socs`` each cell's charge,
    ``reckoned`` where that follows from the word and not from volts. ``cells`` are the volts at rest that
    still hold, read at ``cells_at``; ``lost_why`` tells why older ones do not. ``quarantine`` is the charge
    that was stopped because something was wrong with the pack, until it was looked at; ``stops`` are all of
    them. ``count`` events were told, the ``last`` of them at this moment.
    """

    charge: State | None = None
    since: float | None = None
    socs: tuple[float, ...] = ()
    reckoned: bool = False
    cells: PackReading | None = None
    cells_at: float | None = None
    cells_by: By = "hand"
    lost_why: str = ""
    temperature_c: float | None = None
    at_room: bool = False
    warmth_at: float | None = None
    ran_at: float | None = None
    changed_at: float | None = None
    """When a charge, a run or a word last changed how full it is."""
    used_at: float = 0.0
    """When it was last charged, run, or noted to be in a state."""
    inspected: Event | None = None
    signs: dict[str, Event] = field(default_factory=dict)
    """Signs that stand, with the event that told of each."""
    charging: int | None = None
    charging_since: float | None = None
    quarantine: Event | None = None
    stops: list[Event] = field(default_factory=list)
    cycles: int = 0
    steps: tuple[str, ...] = ()
    retired_at: float | None = None
    handled: bool = False
    """Whether anybody read, charged or ran it."""
    checked: bool = False
    """Whether anybody checked what it resists or holds."""
    own_run: bool = False
    telling: int = 0
    """Charges, runs and checks: what tells how it is."""
    count: int = 0
    last: Moment | None = None


@dataclass(kw_only=True)
class PackHistory(LifeState):
    """What a life tells: its state, and what was measured over time."""

    pack: Pack
    rules: HouseRules
    events: tuple[Event, ...] = ()
    """Those it was told from; of one that was kept only the latest."""
    ahead: tuple[Event, ...] = ()
    late: frozenset[str] = frozenset()
    gone: frozenset[str] = frozenset()
    until: float = math.inf
    load: Callable[[], list[tuple[Record, str]]] | None = None
    """Brings what was measured, where it is not at hand."""
    base: PackHistory | None = None
    """The life before ``events``, where those are not all of it."""
    _measured: list[tuple[Record, str]] | None = None

    @property
    def measured(self) -> list[tuple[Record, str]]:
        """What was measured, oldest first, each with the model of its run."""
        if self._measured is None:
            self._measured = self.load() if self.load else []
        return self._measured

    @cached_property
    def records(self) -> list[Record]:
        """What is measured of it over time, oldest first; minutes only of the model that it ran in most,
        since only like use compares."""
        return self.records_with(())

    def records_with(self, more: Sequence[tuple[Record, str]]) -> list[Record]:
        """The same as if these had been measured after them, each with the model of its run."""
        records = [*self.measured, *more]
        most = Counter(model for r, model in records if r.run_minutes).most_common(1)
        model = most[0][0] if most else ""
        of_it = [r.run_minutes for r, m in records if r.run_minutes and m == model]
        usual = median(of_it) if of_it else 0.0
        return [
            _without_minutes(r) if r.run_minutes and (m != model or _slipped(r.run_minutes, usual)) else r
            for r, m in records
        ]

    @cached_property
    def evidence(self) -> tuple[list[Evidence], list[str]]:
        """The signs for and against it, worst first, and what is too early to say."""
        return evidence_of(self.pack, self.records, rules=self.rules, **self._seen)

    @cached_property
    def health(self) -> Health:
        """The verdict with its evidence, trends and forecast."""
        return health(self.pack, self.records, rules=self.rules, known=self.evidence)

    @property
    def _seen(self) -> dict[str, list[str]]:
        return {"signs": self.lasting_signs, "stops": [e.text for e in self.stops]}

    @property
    def lasting_signs(self) -> list[str]:
        """Signs that do not heal: they stand until they are withdrawn."""
        return [s for s in self.signs if SIGNS[s].outcome == "retire"]

    @property
    def standing_signs(self) -> list[str]:
        """Those, and what is to be mended or measured: it stands until somebody finds otherwise."""
        return [s for s in self.signs if SIGNS[s].outcome in ("retire", "mend")]

    @cached_property
    def today(self) -> StateOfHealth:
        """What it holds and resists now, its worst sign, and whether anybody knows it."""
        found = state_of_health(self.pack, self.records, self.evidence[0])
        return replace(found, stranger=self.stranger, records_wanted=self.records_wanted)

    @property
    def stranger(self) -> bool:
        """Whether nobody charged or ran it here before, nor checked what it resists or holds: volts alone
        are no history."""
        known = self.cycles or self.ran_at is not None or self.checked
        return self.unknown_past or not (known or self.pack.learnt is not None)

    @property
    def records_wanted(self) -> int:
        """How many charges, runs or checks more a pack of unknown past needs until it counts as known."""
        if not self.pack.unknown_past or self.pack.learnt is not None:
            return 0
        return max(RECORDS_WANTED - self.telling, 0)

    @property
    def unknown_past(self) -> bool:
        """Whether what happened to it before still matters more than what is known of it."""
        return self.records_wanted > 0

    @property
    def level(self) -> Level:
        """The worst sign's."""
        return self.today.level


def told(pack: Pack, events: Iterable[Event], *, rules: HouseRules, now: float) -> PackHistory:
    """A pack's life, told from its events in whatever order they came; what is dated ahead does not count.

    It holds until ``Told.until``, when something that was ahead begins to count.
    """
    order = in_order(events, now)
    return told_on(PackHistory(pack=pack, rules=rules), order)


def told_on(base: PackHistory, order: EventOrder) -> PackHistory:
    """The same life with these events after it; ``base`` stays as it is."""
    state = {f.name: getattr(base, f.name) for f in fields(LifeState)}
    life = PackHistory(
        **{**state, "signs": dict(base.signs), "stops": list(base.stops)},
        pack=base.pack,
        rules=base.rules,
        events=order.events,
        ahead=order.ahead,
        late=order.late,
        gone=base.gone | order.gone,
        until=order.until,
        load=lambda: list(base.measured),
        base=base if base.count else None,
    )
    for e in order.events:
        take(life, e)
    return life


def told_with(life: PackHistory, more: Iterable[Event], now: float) -> PackHistory | None:
    """The same life as if these had been said of it too; what it knows, or what was withdrawn from it, is not
    said again. None where one came before the events that are at hand: then all of them must be told."""
    events = (*life.events, *life.ahead)
    known = life.gone | {e.key for e in events}
    new = [e for e in more if e.key not in known]
    base = life.base or PackHistory(pack=life.pack, rules=life.rules, gone=life.gone)
    if any(e.withdrawn or (base.last is not None and moment_of(e) <= base.last) for e in new):
        return None
    return told_on(base, in_order([*events, *new], now))


def take(life: PackHistory, e: Event) -> None:
    """One event more, later than all before it."""
    _TAKES[e.kind](life, e)
    life.count += 1
    life.last = moment_of(e)
    life.handled |= e.kind in ("reading", "charge", "run")
    if e.kind in ("charge", "run", "state"):
        life.used_at = max(life.used_at, e.at)


def _reading(life: PackHistory, e: Event) -> None:
    _warmth(life, e)
    found = _before(life, e)
    if found:
        if not found.whole or life.pack.series == 1:
            life.signs.pop(LOW_CELL, None)  # what each cell reads says more of it
        _is(life, found.state, e, changed=False)
        life.cells, life.cells_at, life.cells_by, life.lost_why = found, e.at, e.by, ""
        life.socs, life.reckoned = found.socs, False
    _keep(life, e)


def _inspection(life: PackHistory, e: Event) -> None:
    _warmth(life, e)
    life.inspected = e
    # what does not heal stands until it is withdrawn; the rest is as it was seen last
    life.signs = {s: life.signs[s] for s in life.lasting_signs}
    life.signs |= {s: e for s in e.signs if s in SIGNS and s not in life.signs}
    if not e.signs:
        life.quarantine = None


def _charging(life: PackHistory, e: Event) -> None:
    if found := _before(life, e):
        life.cells, life.cells_at, life.cells_by = found, e.at, e.by
    life.charging, life.charging_since = e.charge, e.at
    life.changed_at = e.at


def _charge(life: PackHistory, e: Event) -> None:
    before = _mean(life.socs)
    idle = e.ended != "done" and e.mah == 0  # stopped before anything went in
    life.cycles = max(life.cycles + (not idle), e.cycle or 0)
    life.telling += not idle
    if life.charging == e.charge:
        life.charging = life.charging_since = None
    life.inspected, life.signs = None, {s: life.signs[s] for s in life.standing_signs}
    life.temperature_c, life.at_room, life.warmth_at = None, False, None
    if e.ended == "danger":
        life.quarantine = e
        life.stops.append(e)
    _keep(life, e)
    life.own_run = False
    life.changed_at = life.changed_at if idle else e.at
    state, cells, socs = _charged(life, e, before)
    if state:
        life.cells, life.cells_at, life.cells_by = cells, e.at if cells else None, "charger"
        life.lost_why = "" if cells else "It was charged since it was read. Read it again."
        life.socs, life.reckoned = socs, cells is None
        _is(life, state, e, changed=True)


def _charged(
    life: PackHistory, e: Event, before: float | None
) -> tuple[State | None, PackReading | None, tuple[float, ...]]:
    """What a charge left: full by what the charger read, part by what went in; none if nothing tells."""
    if e.state:
        return e.state, None, _alike(life, e.state)
    if e.ended == "done":
        cells = _read(life, e.end_cell_v)
        return (cells.state, cells, cells.socs) if cells else ("full", None, _alike(life, "full"))
    if e.ended and e.mah != 0:
        if before is None or e.mah is None:
            return "part", None, ()
        soc = min(before + e.mah / 1000 / life.pack.capacity_ah, 1.0)
        return state_at(life.pack.chemistry, soc, life.rules), None, (soc,) * life.pack.series
    return None, None, ()


def _run(life: PackHistory, e: Event) -> None:
    _keep(life, e)
    life.own_run = True
    life.telling += 1
    life.ran_at, life.inspected, life.changed_at = e.at, None, e.at
    life.signs = {s: life.signs[s] for s in life.standing_signs}
    life.temperature_c, life.at_room, life.warmth_at = None, False, None
    life.cells, life.cells_at = None, None
    life.lost_why = "It was run since it was read. Read it again."
    state = e.state or state_after_run(
        life.pack.chemistry,
        e.landing_cell_v,
        life.rules,
        before_soc=min(life.socs, default=None),
        minutes=e.minutes,
    )
    landed = _read(life, (e.landing_cell_v,) * life.pack.series) if e.landing_cell_v else None
    left = least_left(min(life.socs, default=None), e.minutes)
    if landed is None and state not in ("spent", "too_low") and not e.state and left is not None:
        life.socs = (left,) * life.pack.series
    else:
        life.socs = landed.socs if landed else _alike(life, state)
    life.reckoned = True
    _is(life, state, e, changed=True)


def _state(life: PackHistory, e: Event) -> None:
    if not e.state:
        return
    if e.state != life.charge:
        life.cells, life.cells_at, life.changed_at = None, None, e.at
        life.lost_why = "It was noted otherwise since it was read. Read it again."
        life.socs, life.reckoned = _alike(life, e.state), True
    _is(life, e.state, e, changed=e.state != life.charge)


def _retirement(life: PackHistory, e: Event) -> None:
    life.steps = e.steps
    done = set(e.steps) >= set(RETIRE_STEPS)
    life.retired_at = (life.retired_at or e.at) if done else None


def _note(life: PackHistory, e: Event) -> None:
    """It tells people, not the program."""


_TAKES = {
    "reading": _reading,
    "inspection": _inspection,
    "charging": _charging,
    "charge": _charge,
    "run": _run,
    "state": _state,
    "retirement": _retirement,
    "note": _note,
}


def _is(life: PackHistory, state: State, e: Event, *, changed: bool) -> None:
    """It is in this state now. It came there with what changed its charge; a reading tells that it is
    there, and since when only if it was taken for stored, or for something else than stored, before."""
    out_of_storage = (life.charge == "stored") != (state == "stored")
    if life.since is None or changed or out_of_storage:
        life.since = e.at
    life.charge = state


def _warmth(life: PackHistory, e: Event) -> None:
    if e.temperature_c is not None:
        life.temperature_c, life.at_room, life.warmth_at = e.temperature_c, False, e.at
    elif e.at_room and not _just_measured(life, e.at):
        life.temperature_c, life.at_room, life.warmth_at = None, True, e.at


def _just_measured(life: PackHistory, at: float) -> bool:
    """Whether a thermometer spoke while the pack would still be cooling: it knows better than a hand."""
    if life.temperature_c is None or life.warmth_at is None:
        return False
    return at - life.warmth_at < 60 * life.rules.cool_min


def _before(life: PackHistory, e: Event) -> PackReading | None:
    """What was read of it at rest: its cells, or the whole."""
    most_v = life.pack.series * highest_possible_v(life.pack.chemistry)
    if e.pack_v is not None and not e.cell_v and 0 < e.pack_v <= most_v:
        return whole_reading(life.pack.chemistry, life.pack.series, e.pack_v, life.rules)
    return _read(life, e.cell_v)


def _read(life: PackHistory, cell_v: tuple[float, ...]) -> PackReading | None:
    """The reading of these cells; None for none, or for another pack's."""
    if len(cell_v) != life.pack.series:
        return None
    try:
        return pack_reading(life.pack.chemistry, cell_v, life.rules)
    except DomainError:
        return None


def _keep(life: PackHistory, e: Event) -> None:
    """As a record, if anything was measured."""
    minutes = e.minutes if e.kind == "run" or not life.own_run else None
    landing = _landing_soc(life, e)
    full = e.end_cell_v if e.kind == "charge" and e.ended in ("", "done") else ()
    measured = (e.cell_v, e.cell_mohm, e.capacity_ah, e.balance_min, minutes, landing, full)
    if not any(x is not None and x != () for x in measured):
        return
    record = Record(
        day=e.at / DAY_S,
        cycle=life.cycles,
        temperature_c=e.temperature_c,
        soc=e.soc,
        cell_mohm=e.cell_mohm or None,
        rest_cell_v=e.cell_v or None,
        capacity_ah=None if doubted(life.pack, e) else e.capacity_ah,
        balance_min=e.balance_min,
        run_minutes=minutes,
        since=None if life.changed_at is None else life.changed_at / DAY_S,
        end_cell_v=full or None,
        landing_soc=landing,
        run_share=_run_share(life, landing),
        read_by=e.by,
    )
    life.measured.append((record, e.model))
    checked = bool(record.cell_mohm) or record.capacity_ah is not None
    life.checked |= checked
    life.telling += checked and e.kind == "reading"


def _landing_soc(life: PackHistory, e: Event) -> float | None:
    """The charge with which a run landed, by its volts; None where they were not read, or do not tell."""
    cell = chemistry(life.pack.chemistry)
    if e.kind != "run" or not e.landing_cell_v or cell.charge_method == "peak" or not cell.volts_tell:
        return None
    return soc_at_rest(cell.id, e.landing_cell_v)


def _run_share(life: PackHistory, landing_soc: float | None) -> float | None:
    """What a run took of the charge that the pack had before it."""
    before = _mean(life.socs)
    if landing_soc is None or before is None or before <= landing_soc:
        return None
    return before - landing_soc


def _slipped(minutes: float, usual: float) -> bool:
    """So far from what it mostly runs that a slip is likelier: it compares with nothing."""
    return not usual / SLIPPED <= minutes <= usual * SLIPPED


SLIPPED = 6.0
"""Times the usual minutes, or a part of them. House figure."""


def doubted(pack: Pack, e: Event) -> bool:
    """A charge that put in more than the pack can hold: it tells of no capacity till one is sure of it."""
    most = most_put_back(pack.chemistry) * pack.capacity_ah * 1000
    return not e.sure and e.mah is not None and e.mah > most


def _without_minutes(r: Record) -> Record:
    return replace(r, run_minutes=None)


def _alike(life: PackHistory, state: State) -> tuple[float, ...]:
    """Cells as a word lets one expect them; empty where it says too little."""
    by_rules, (low, high) = for_chemistry(life.rules, life.pack.chemistry), storage_soc(life.pack.chemistry)
    usual = {"full": by_rules.start_soc, "spent": by_rules.landing_soc, "stored": (low + high) / 2}
    return (usual[state],) * life.pack.series if state in usual else ()


def _mean(socs: tuple[float, ...]) -> float | None:
    return sum(socs) / len(socs) if socs else None
