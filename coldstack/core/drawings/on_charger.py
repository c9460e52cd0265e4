"""A pack, or packs on a board, wired to a charger's port."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.adapters import Adapter, Path
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.charger import Input
from coldstack.core.charging.steps import BenchStep
from coldstack.core.drawings.circuit import Mated
from coldstack.core.drawings.forbidden import (
    Forbidden,
    balance_before_main,
    forbidden,
    pack_reversed,
    series_lead_on_a_board,
)
from coldstack.core.drawings.packs import pack_on_bench
from coldstack.core.drawings.strip import Act, strip_of
from coldstack.core.drawings.wired import Load, Wiring, chain_sentence
from coldstack.core.drawings.wiring import (
    WiredBench,
    balance_piece_laid,
    board_laid,
    charger_laid,
    laid,
    piece_laid,
    supply_laid,
)
from coldstack.core.matching.charge import ChargeFit
from coldstack.core.packs.pack import Pack
from coldstack.core.units import plain_number

SUPPLY, CHARGER, FIRST_PIECE = -1, 0, 1
"""Columns: what feeds it, the charger, then what goes from it to the packs."""
FEEDS: dict[Input, str] = {"mains": "mains lead", "dc": "DC leads"}


@dataclass(frozen=True, slots=True)
class OnBoard:
    """Packs that share a board, each with the pieces by which it gets into a socket."""

    board: Adapter
    packs: tuple[Pack, ...]
    ways: tuple[Path, ...]


def charge_wiring(
    fit: ChargeFit,
    *,
    plug_in: Sequence[BenchStep],
    pull_out: Sequence[BenchStep],
    on_board: OnBoard | None = None,
) -> Wiring:
    """A possible fit as it is plugged together; the steps are those of the bench, each with its plugs."""
    made = ChargeLaid(fit, on_board)
    bench, joined = made.bench, made.joined
    loads = tuple(_loads(fit, made))
    return Wiring(
        parts=bench.parts,
        joined=joined,
        loads=loads,
        plug_in=tuple(strip_of(bench.circuit, [made.act(s) for s in plug_in], begun=made.fed)),
        pull_out=tuple(strip_of(bench.circuit, [made.act(s) for s in pull_out], begun=joined)),
        forbidden=tuple(_forbidden(made)),
        to_get=(),
        sentence=chain_sentence(bench, joined, loads),
    )


class ChargeLaid:
    """The parts of a fit, and its plugs by the step that has them in hand."""

    def __init__(self, fit: ChargeFit, on_board: OnBoard | None) -> None:
        self.fit, self.on_board = fit, on_board
        self.fed: list[Mated] = [Mated("supply.feed", "charger.feed")]
        self.lead: list[Mated] = []
        self.main: list[Mated] = []
        self.balance: list[Mated] = []
        path = fit.path
        self.pieces = tuple(reversed(path.pieces)) if path and path.pairs else ()
        self.bench = laid(list(self._parts()))

    @property
    def joined(self) -> tuple[Mated, ...]:
        """All of its plugs, in the order in which they go in; what feeds the charger is in from the first."""
        return (*self.fed, *self.lead, *self.main, *self.balance)

    def act(self, step: BenchStep) -> Act:
        """A step of the bench with its plugs."""
        plug = {"lead": self.lead, "main": self.main, "balance": self.balance}.get(step.id, [])
        pull = {"lead_out": self.lead, "main_out": self.main, "balance_out": self.balance}.get(step.id, [])
        return Act(step.id, step.sentence, step.why, tuple(plug), tuple(pull))

    def _parts(self) -> Iterator[WiredBench]:
        fit = self.fit
        balanced = fit.balance is not None and fit.balance.fits
        pack, column = fit.pack, FIRST_PIECE + len(self.pieces)
        yield _supply(fit.feed)
        yield charger_laid(
            "charger",
            fit.charger.name,
            f"{plain_number(fit.amps.current_a)} A" if fit.amps else "",
            None if fit.charger.by_balance else fit.charger.output_end,
            balance=fit.balance.port if fit.balance is not None and fit.balance.port else None,
            cells=pack.series,
            column=CHARGER,
            feed=FEEDS[fit.feed.source],
        )
        last = "charger.out"
        taps, through = pack.series + 1, fit.balance.through if fit.balance else None
        for i, (piece, ends) in enumerate(zip(self.pieces, self._ends(), strict=True)):
            wires = (pack.balance_family, piece.balance_out) if piece is through else None
            part, at = f"piece {i}", FIRST_PIECE + i
            yield piece_laid(part, piece, ends, column=at, packs_at="right", balance=wires, taps=taps)
            self.lead.append(Mated(last, f"{part}.far"))
            last = f"{part}.near"
            if wires and self.on_board is None:
                self._by_piece(part, in_main=not pack.balance_brought_out)
        if self.on_board is not None:
            yield from self._board(self.on_board, last, column, balanced=balanced)
            return
        own = balanced and (pack.balance_brought_out or through is not None)
        yield _pack(pack, "pack 0", column=column + 1, balance=own)
        if not fit.charger.by_balance:
            self.main.insert(0, Mated(last, "pack 0.main"))
        if own and through is None:
            yield from self._balance(column)

    def _by_piece(self, part: str, *, in_main: bool) -> None:
        """Balance wires that run through a piece: in the main plug they meet when that goes in."""
        (self.main if in_main else self.balance).append(Mated(f"{part}.balance near", "pack 0.balance"))
        (self.lead if in_main else self.balance).append(Mated("charger.balance", f"{part}.balance far"))

    def _ends(self) -> tuple[tuple[PlugEnd, PlugEnd], ...]:
        """Which way round the pieces lie, from the charger on."""
        path = self.fit.path
        if path is None or not self.pieces:
            return ()
        return tuple(reversed(path.ends(self.fit.pack.plug_end, self.fit.charger.output_end)))

    def _balance(self, column: int) -> Iterator[WiredBench]:
        """Straight into the charger, or by a balance adapter."""
        pack, way = self.fit.pack, self.fit.balance
        if way is None:
            return
        if way.port == pack.balance_family:
            self.balance.append(Mated("charger.balance", "pack 0.balance"))
            return
        taps = pack.series + 1
        yield balance_piece_laid(
            "balance piece", way.adapter, pack.balance_family, way.port, taps, column=column
        )
        self.balance += [
            Mated("charger.balance", "balance piece.far"),
            Mated("balance piece.near", "pack 0.balance"),
        ]

    def _board(self, on: OnBoard, last: str, column: int, *, balanced: bool) -> Iterator[WiredBench]:
        cells = self.fit.pack.series
        with_taps = balanced and bool(on.board.balance_from)
        yield board_laid("board", on.board, len(on.packs), cells=cells, column=column, balanced=with_taps)
        self.lead.append(Mated(last, "board.out"))
        longest = max((len(way.pieces) for way in on.ways), default=0)
        for k, (pack, way) in enumerate(zip(on.packs, on.ways, strict=True)):
            yield from self._into_socket(k, pack, way, on.board, column)
            own = with_taps and pack.balance_brought_out
            yield _pack(pack, f"pack {k}", column=column + longest + 1, row=k, balance=own)
            if own:
                self.balance.append(Mated(f"board.balance {k}", f"pack {k}.balance"))
        if with_taps:
            self.balance.append(Mated("charger.balance", "board.balance out"))

    def _into_socket(
        self, k: int, pack: Pack, way: Path, board: Adapter, column: int
    ) -> Iterator[WiredBench]:
        """Adapters go on to the pack first: what hangs loose then is covered."""
        last = f"pack {k}.main"
        for i, (piece, ends) in enumerate(
            zip(way.pieces, way.ends(pack.plug_end, board.ends[0]), strict=True)
        ):
            part = f"pack {k} piece {i}"
            at = column + len(way.pieces) - i
            yield piece_laid(part, piece, ends, column=at, row=k, packs_at="right")
            self.main.append(Mated(f"{part}.near", last))
            last = f"{part}.far"
        self.main.append(Mated(f"board.in {k}", last))


def _pack(pack: Pack, part: str, *, column: int, row: int = 0, balance: bool) -> WiredBench:
    volts = chemistry(pack.chemistry).nominal_v
    return pack_on_bench(pack, part, cell_v=volts, side="left", column=column, row=row, balance=balance)


def _supply(feed: Feed) -> WiredBench:
    """The mains, a supply by its name, or one that nobody named."""
    found, name = feed.supply, FEEDS[feed.source]
    if found is not None:
        words = f"{plain_number(found.voltage_v)} V, {plain_number(found.power_w)} W"
        return supply_laid("supply", found.name, words, volts=found.voltage_v, feed=name, column=SUPPLY)
    called = "the mains" if feed.source == "mains" else "a DC supply"
    return supply_laid("supply", called, "", volts=None, feed=name, column=SUPPLY)


def _loads(fit: ChargeFit, made: ChargeLaid) -> Iterator[Load]:
    if fit.amps is None:
        return
    amps = fit.amps.current_a
    by_id = {x.id: x for x in fit.amps.limits}
    for i, piece in enumerate(made.pieces):
        limit = by_id.get(f"piece_{piece.id}")
        if limit is not None:
            yield Load(f"piece {i}", piece.name, amps, amps / limit.current_a)
    for m in (*made.lead, *made.main[:1]):
        family = made.bench.plug(m.a).family
        limit = by_id.get(f"plug_{family}")
        if limit is not None and made.on_board is None:
            yield Load(m.a, f"Plug, {made.bench.plug(m.a).name}", amps, amps / limit.current_a)


def _forbidden(made: ChargeLaid) -> Iterator[Forbidden]:
    """What is near at hand here: a lead that is live at its bare end; on a board what makes it burn."""
    fit = made.fit
    if made.pieces and made.on_board is None and made.bench.plug(made.lead[0].b).bare:
        yield forbidden(
            "lead_last",
            "The pack before the charger",
            "The lead’s other end hangs loose with the pack’s volts on bare metal: one touch is a short.",
            made.bench,
            (*made.lead[1:], *made.main),
        )
    on = made.on_board
    if on is None:
        return
    cell_v, series = chemistry(fit.pack.chemistry).nominal_v, fit.pack.series
    awg = on.board.awg
    if fit.balance is not None and on.board.balance_from:
        yield balance_before_main(on.board, cell_v=cell_v, series=series, awg=awg)
    yield series_lead_on_a_board(on.board, cell_v=cell_v, series=series, awg=awg)
    yield pack_reversed(on.board, cell_v=cell_v, series=series, awg=awg)
