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


def charge_steps(*, chemistry_id: str, series: int, program: str, current_a: float, end_v: float | None, on_board: int = 0, lead: str = "", port: int = 1) -> list[BenchStep]:  # fmt: skip
    """The steps of one charge, in the order in which they are safe. ``on_board`` is how many packs share a board, 0 for one alone."""
    set_to = f"{chemistry(chemistry_id).name}, {program}, {series}S, {plain_number(current_a)} A" + (f", ends at {end_v:.2f} V" if end_v else "")  # fmt: skip
    plug_in = f"Plug {lead or 'the charge lead'} into port {port} of the charger."
    steps = [
        BenchStep("place", "Put the packs on a surface that does not burn, away from what does, in a bag or vented box."),
        BenchStep("set", f"Set the charger: {set_to}."),
        BenchStep("lead", plug_in, "Charger first: bare bananas on a live pack short out."),
    ]  # fmt: skip
    if on_board:
        steps += [
            BenchStep("main", f"Plug the main leads of the {on_board} packs into the board, one by one; wait until they are calm.", "The main leads take the rush, the thin balance wires cannot."),
            BenchStep("balance", "Then the balance plugs into the board, and the board’s into the charger."),
        ]  # fmt: skip
    else:
        steps.append(BenchStep("main", "Plug in the pack’s main lead."))
        if series > 1 and chemistry(chemistry_id).charge_method == "cc_cv":
            steps.append(BenchStep("balance", "Then its balance plug."))
    return [*steps, BenchStep("confirm", f"See that the charger found {series} cell{'s' * (series > 1)} and shows the set amps. Then start.")]  # fmt: skip


def unplug_steps(*, series: int, on_board: int = 0) -> list[BenchStep]:
    """The reverse, when it is done."""
    out = [BenchStep("balance_out", "Pull the balance plugs first." if on_board else "Pull the balance plug.")] if series > 1 else []  # fmt: skip
    return [
        *out,
        BenchStep("main_out", "Then the main leads, one by one." if on_board else "Then the main lead."),
        BenchStep("lead_out", "Last the charge lead from the charger."),
        BenchStep("mark", "Mark the packs full, so that they are not mixed with spent ones."),
    ]
