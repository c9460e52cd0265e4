"""Between the API's shapes, the stored gear and the core's values of the bench."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.utils import timezone

from coldstack.core.boards.batches import Batch, batch_of
from coldstack.core.boards.laid import BenchPack, Board, laid_packs
from coldstack.core.boards.parallel import Sharing, sharing
from coldstack.core.errors import DomainError
from coldstack.core.life.events import Event
from coldstack.core.matching.charge import Bench, best_feed
from coldstack.core.packs.keys import said_of
from coldstack.core.readings.cells import typed_reading
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.scheduling.bench import ChargerInUse
from coldstack.server.api.values import figures
from coldstack.server.bench import replies as r
from coldstack.server.bench import schemas as s
from coldstack.server.charges.levels import supplies_now
from coldstack.server.charges.models import ACTIVE, Charge
from coldstack.server.gear import assemble as gear
from coldstack.server.life.now import Standing, at_hand, standing_with, standings
from coldstack.server.life.volts import Volts, volts_said
from coldstack.server.rules.assemble import rules_of

DAYS_AHEAD = 4


@dataclass(frozen=True, slots=True)
class OnBench:
    """A bench as the core knows it; ``problems`` are faults of what was typed, by pack id, ``standings`` the
    packs as they are now, with what is typed here."""

    laid: list[BenchPack]
    standings: dict[str, Standing]
    problems: dict[str, str]
    rules: HouseRules
    bench: Bench
    board: Board | None
    boards: list[Board]
    feds: list[ChargerInUse]
    unused: list[ChargerInUse]
    running: list[Charge]
    data: s.BenchIn

    @property
    def busy(self) -> set[str]:
        """Ids of the packs that are charging now."""
        return {x for x, pack in self.standings.items() if pack.now.told.charging is not None}

    @property
    def free(self) -> list[BenchPack]:
        """Packs that can be planned: not those that charge, nor those in whose line is a fault."""
        return [m for m in self.laid if m.pack.id not in self.busy and m.pack.id not in self.problems]

    def member(self, pack_id: str) -> BenchPack:
        """The laid-out pack with this id; raises DomainError for another."""
        for m in self.laid:
            if m.pack.id == pack_id:
                return m
        raise DomainError("pack", f"{said_of(pack_id)} is not laid out.")

    def fed(self, charger_id: str) -> ChargerInUse:
        """A charger as it is fed, used now or not; raises DomainError for an unknown one."""
        for f in (*self.feds, *self.unused):
            if f.charger.id == charger_id:
                return f
        raise DomainError("charger", "There is no such charger any more.")


def on_bench(data: s.BenchIn, rules: HouseRules | None = None) -> OnBench:
    """Rows and typed readings as the core's values; ``rules`` for others than those the bench goes by. Five
    queries however many packs.

    Raises
    ------
    DomainError
        For unknown packs, signs, boards or rules.
    """
    rules, bench = rules or rules_of(data.house_rules), gear.bench()
    boards = [Board(piece) for piece in bench.boards]
    board = _board(data.board, boards)
    if len({line.pack for line in data.laid}) < len(data.laid):
        raise DomainError("laid", "A pack is laid out twice.")
    now, problems = timezone.now(), dict[str, str]()
    found = {x.pack.id: x for x in standings(tags=[said_of(x.pack) for x in data.laid], now=now)}
    at_hand(found[x.pack] for x in data.laid if x.pack in found and x.source == "typed")
    for i, line in enumerate(data.laid):
        if line.pack not in found:
            words = f"There is no pack {said_of(line.pack)} in the box any more."
            raise DomainError(f"laid.{i}.pack", words)
        typed = typed_event(found[line.pack], line, now, problems)
        if typed is not None:
            found[line.pack] = standing_with(found[line.pack], [typed], now=now)
    here = [found[line.pack] for line in data.laid]
    laid = laid_packs(
        [x.pack for x in here],
        [x.now.reading for x in here],
        [x.now.inspection for x in here],
        trust=data.label_trust,
        board=board,
        pieces=bench.pieces,
    )
    feds, unused = feds_of(data)
    running = list(Charge.objects.filter(state__in=ACTIVE).prefetch_related("members"))
    return OnBench(laid, found, problems, rules, bench, board, boards, feds, unused, running, data)


def as_written(moment: datetime) -> datetime:
    """The hands of the clock: a zone that came with them is left out, since the bench's times have none."""
    return moment.replace(tzinfo=None)


def sharing_out(members: list[BenchPack], found: Sharing) -> r.SharingOut:
    """A sharing as the API says it."""
    calm = found.calm_s
    return r.SharingOut(
        packs=[m.pack.id for m in members],
        allowed=found.allowed,
        **figures(found, without=("calm_s",)),
        calm_s=calm if calm is not None and calm < float("inf") else None,
    )


def board_sharing(b: OnBench, members: list[BenchPack], *, balance_first: bool = False) -> Sharing:
    """May these share the board in use?

    Raises
    ------
    DomainError
        Without a board.
    """
    if b.board is None:
        raise DomainError("bench.board", "There is no parallel board on this bench.")
    return sharing(members, rules=b.rules, board=b.board, balance_first=balance_first)


def typed_event(pack: Standing, line: s.BenchPackIn, now: datetime, problems: dict[str, str]) -> Event | None:
    """What is typed in a line, as an event under the key that it has once it is kept; None for nothing new.

    What the checker read is in the log already.
    """
    if line.source != "typed" or not (line.cells.strip() or line.temperature_c is not None):
        return None
    at = min(line.read_at or now, now)
    volts: Volts = {}
    if line.cells.strip():
        try:
            volts = volts_said(typed_reading(pack.pack.chemistry, pack.pack.series, line.cells))
        except DomainError as error:
            problems[line.pack] = error.sentence
            return None
    return Event(
        key=typed_key(pack.pk, at),
        at=at.timestamp(),
        said=at.timestamp(),
        kind="reading",
        **volts,
        temperature_c=line.temperature_c,
    )


def typed_key(pack_pk: int, at: datetime) -> str:
    """The key of what was typed on the bench at this moment."""
    return f"bench-{pack_pk}-{at.timestamp():.3f}"


def _board(board_id: str | None, boards: list[Board]) -> Board | None:
    if board_id is None:
        return boards[0] if boards else None
    if board_id == "":
        return None
    found = next((x for x in boards if x.piece.id == board_id), None)
    if found is None:
        raise DomainError("board", "There is no such board any more.")
    return found


def feds_of(data: s.BenchIn) -> tuple[list[ChargerInUse], list[ChargerInUse]]:
    """The chargers in use, each as it is fed, and those that are not."""
    asked = {f.charger: f for f in data.feds}
    supplies = supplies_now()
    used: list[ChargerInUse] = []
    unused: list[ChargerInUse] = []
    for charger in gear.chargers():
        wish = asked.get(charger.id)
        best = best_feed(charger, supplies)
        fed = ChargerInUse(charger, best.source, best.supply)
        if wish is not None and wish.source == "mains" and charger.mains_w is not None:
            fed = ChargerInUse(charger, "mains")
        if wish is not None and wish.source == "dc" and charger.dc_w is not None:
            fed = ChargerInUse(charger, "dc", next((x for x in supplies if x.id == wish.supply), None))
        (used if wish is None or wish.use else unused).append(fed)
    return used, unused


def batch_on(b: OnBench, pack_ids: list[str]) -> Batch:
    """These packs as one batch that may be charged.

    Raises
    ------
    DomainError
        If one did not pass the inspection, or they may not share a board: the first reason.
    """
    members = [b.member(x) for x in pack_ids]
    for m in members:
        if m.pack.id in b.problems:
            raise DomainError("packs", f"{said_of(m.pack.id)}: {b.problems[m.pack.id]}")
        if not m.inspection.passed:
            raise DomainError(
                "packs", f"{said_of(m.pack.id)} may not be charged. {m.inspection.findings[0].sentence}"
            )
    if len(members) > 1:
        found = board_sharing(b, members)
        if not found.allowed:
            raise DomainError("packs", found.reasons[0].sentence)
    return batch_of(members, rules=b.rules, board=b.board)
