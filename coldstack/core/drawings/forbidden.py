"""What must not be plugged together: drawn too, struck out, each with what its circuit does."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.plugs import PlugEnd, plug_family
from coldstack.core.drawings.circuit import FaultKind, Mated, state_of
from coldstack.core.drawings.wiring import WiredBench, WiredPart, board_laid, laid, lead_for_two, pack_laid

DOES: dict[FaultKind, str] = {
    "short": "a short circuit",
    "reversed": "plus on minus",
    "thin": "all of the rush through wires as thin as hair",
    "bare": "live metal in the open",
}
"""What each fault is, in words."""


@dataclass(frozen=True, slots=True)
class Forbidden:
    """One way that must not be: drawn as its parts with what is plugged together, and why not."""

    id: str
    title: str
    sentence: str
    parts: tuple[WiredPart, ...]
    joined: tuple[Mated, ...]
    live: tuple[str, ...]
    fault: FaultKind
    does: str


def series_lead_on_a_board(board: Adapter, *, cell_v: float, series: int, awg: float) -> Forbidden:
    """Two packs on a series lead in one socket of a parallel board, a third in the next."""
    end, n = board.ends[0].mate, series
    packs = [_pack(k, cell_v, n, end, awg, column=2) for k in range(3)]
    bench = laid(
        [
            *packs,
            lead_for_two("lead", "series", end, awg=awg, column=1, packs_at="right"),
            board_laid("board", board, 2, cells=n, column=0, balanced=False),
        ]
    )
    joined = (
        Mated("pack 0.main", "lead.in 0"),
        Mated("pack 1.main", "lead.in 1"),
        Mated("lead.out", "board.in 0"),
        Mated("pack 2.main", "board.in 1"),
    )
    return forbidden(
        "series_on_board",
        "A series lead on a parallel board",
        f"Twice {n} cells against {n}: the two rush into the third until something burns.",
        bench,
        joined,
    )


def pack_reversed(board: Adapter, *, cell_v: float, series: int, awg: float) -> Forbidden:
    """One pack of two with plus in minus."""
    end = board.ends[0].mate
    bench = laid(
        [
            *(_pack(k, cell_v, series, end, awg, column=1) for k in range(2)),
            board_laid("board", board, 2, cells=series, column=0, balanced=False),
        ]
    )
    joined = (Mated("pack 0.main", "board.in 0"), Mated("pack 1.main", "board.in 1", crossed=True))
    how = "turned or soldered" if plug_family(end.family).keyed else "plugged"
    return forbidden(
        "reversed",
        "One pack the wrong way round",
        f"A plug {how} with plus on minus: both packs in series, through nothing but their leads.",
        bench,
        joined,
    )


def balance_before_main(board: Adapter, *, cell_v: float, series: int, awg: float) -> Forbidden:
    """The balance plugs of two packs on the board, their main plugs not yet."""
    end, family = board.ends[0].mate, board.balance_from[0]
    bench = laid(
        [
            *(_pack(k, cell_v, series, end, awg, column=1, balance=family) for k in range(2)),
            board_laid("board", board, 2, cells=series, column=0, balanced=True),
        ]
    )
    joined = tuple(Mated(f"pack {k}.balance", f"board.balance {k}") for k in range(2))
    return forbidden(
        "balance_first",
        "Balance plugs before the main plugs",
        "The fuller pack fills the emptier one through the balance wires: their insulation melts.",
        bench,
        joined,
    )


def _pack(
    k: int, cell_v: float, series: int, end: PlugEnd, awg: float, *, column: int, balance: str | None = None
) -> WiredBench:
    """The k-th of packs beside each other."""
    return pack_laid(
        f"pack {k}",
        f"pack {k + 1}",
        f"{series}S",
        cell_v=[cell_v] * series,
        end=end,
        awg=awg,
        lead_mm=100,
        balance=balance,
        column=column,
        row=k,
        side="left",
    )


def forbidden(
    forbidden_id: str, title: str, sentence: str, bench: WiredBench, joined: tuple[Mated, ...]
) -> Forbidden:
    """A way that must not be, with the fault of its circuit: what has none is not drawn as a danger."""
    found = state_of(bench.circuit, joined)
    assert found.faults, f"{forbidden_id} has no fault"
    kind, live = found.faults[0].kind, tuple(sorted(found.live))
    return Forbidden(forbidden_id, title, sentence, bench.parts, joined, live, kind, DOES[kind])
