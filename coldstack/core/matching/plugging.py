"""The order of plugging a fit in and out: the steps of the bench, with its leads by name."""

from __future__ import annotations

from coldstack.core.chain.plugs import plug_family
from coldstack.core.charging.steps import BenchStep, charge_steps, unplug_steps
from coldstack.core.matching.charge import ChargeFit
from coldstack.core.matching.charger_settings import ChargerSettings


def steps_in(fit: ChargeFit, found: ChargerSettings, *, on_board: int = 0, port: int = 1) -> list[BenchStep]:
    """The steps of one charge; ``on_board`` is how many packs share a board, 0 for one alone."""
    pieces = fit.path.pieces if fit.path else ()
    lead = " and ".join(x.name for x in reversed(pieces))
    return charge_steps(
        chemistry_id=fit.pack.chemistry,
        series=fit.pack.series,
        program=found.program,
        current_a=found.current_a,
        end_v=found.end_v,
        on_board=on_board,
        lead=f"the {lead}" if lead else "the board" if on_board else None,
        port=port,
        bare_ends=not plug_family(fit.charger.output_plug).keyed,
        by_balance=fit.charger.by_balance,
    )


def steps_out(fit: ChargeFit, *, on_board: int = 0) -> list[BenchStep]:
    """The reverse, when it is done."""
    lead = bool(on_board or (fit.path and fit.path.pieces))
    series = fit.pack.series if fit.balance is not None else 1
    return unplug_steps(series=series, on_board=on_board, by_balance=fit.charger.by_balance, lead=lead)
