"""The order of plugging in and out, as steps that one ticks."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.units import plain_number


@dataclass(frozen=True, slots=True)
class BenchStep:
    """One step: what to do, and why where it is not plain."""

    id: str
    sentence: str
    why: str = ""


BANANAS = "Charger first: bare bananas on a live pack short out."


def charge_steps(
    *,
    chemistry_id: str,
    series: int,
    program: str,
    current_a: float,
    end_v: float | None,
    on_board: int = 0,
    bare_ends: bool = False,
    by_balance: bool = False,
    lead: str | None = "the charge lead",
    port: int = 1,
) -> list[BenchStep]:
    """The steps of one charge, in the order in which they are safe.

    ``bare_ends``: the lead's plugs at the charger are bare metal. ``on_board`` is how many packs share a
    board, 0 for one alone. ``by_balance``: the balance plug carries all of the charge. ``lead`` is what goes
    into the charger, None where the pack itself does.
    """
    ends = f", ends at {end_v:.2f} V" if end_v else ""
    set_to = f"{chemistry(chemistry_id).name}, {program}, {series}S, {plain_number(current_a)} A{ends}"
    by_balance_plug = series > 1 and chemistry(chemistry_id).charge_method == "cc_cv"
    if by_balance:
        return [
            *_begin(set_to),
            BenchStep(
                "balance",
                f"Plug the pack’s balance plug into port {port} of the charger, the right way round.",
                "It carries all of the charge. Keep the main plug covered: it is live.",
            ),
            BenchStep("confirm", "See that the charger takes the pack and shows every cell charging."),
        ]
    cells = f"{series} cell{'s' * (series > 1)}"
    why = BANANAS if bare_ends else "Charger first: then no end of it is live."
    plug_in = (
        [] if lead is None else [BenchStep("lead", f"Plug {lead} into port {port} of the charger.", why)]
    )
    into = "" if lead is not None else f" into port {port} of the charger"
    return [
        *_begin(set_to),
        *plug_in,
        *(_onto_board(on_board) if on_board else _alone(into, by_balance_plug=by_balance_plug)),
        BenchStep("confirm", f"See that the charger found {cells} and shows the set amps. Then start."),
    ]


def _begin(set_to: str) -> list[BenchStep]:
    return [
        BenchStep(
            "place",
            "Put the packs on a surface that does not burn, away from what does, in a bag or vented box.",
        ),
        BenchStep("set", f"Set the charger: {set_to}."),
    ]


def _onto_board(packs: int) -> list[BenchStep]:
    main = f"Plug the main leads of the {packs} packs into the board, one by one; wait until they are calm."
    return [
        BenchStep("main", main, "The main leads take the rush, the thin balance wires cannot."),
        BenchStep("balance", "Then the balance plugs into the board, and the board’s into the charger."),
    ]


def _alone(into: str, *, by_balance_plug: bool) -> list[BenchStep]:
    words = f"Plug the pack’s main lead{into}." if into else "Plug in the pack’s main lead."
    main = [BenchStep("main", words)]
    return [*main, BenchStep("balance", "Then its balance plug.")] if by_balance_plug else main


def unplug_steps(
    *, series: int, on_board: int = 0, by_balance: bool = False, lead: bool = True
) -> list[BenchStep]:
    """The reverse, when it is done; ``lead`` where one lies between."""
    mark = BenchStep("mark", "Mark the packs full, so that they are not mixed with spent ones.")
    if by_balance:
        return [BenchStep("balance_out", "Pull the balance plug."), mark]
    out = (
        [BenchStep("balance_out", "Pull the balance plugs first." if on_board else "Pull the balance plug.")]
        if series > 1
        else []
    )
    return [
        *out,
        BenchStep("main_out", "Then the main leads, one by one." if on_board else "Then the main lead."),
        *([BenchStep("lead_out", "Last the charge lead from the charger.")] if lead else []),
        mark,
    ]
