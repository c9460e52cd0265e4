"""What speaks against a run, as data: a quantity that one reads, its limit, and what to say beyond it.

The checks of a run and the kit that a phone takes along go by the same ones.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading
from coldstack.core.readings.tolerance import act_above_v, damaged_below_v, over_full_above_v, watch_above_v
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import DEG, plain_number

GoVerdict = Literal["go", "careful", "no_go"]
Quantity = Literal["lowest_v", "highest_v", "spread_v", "temperature_c"]

FROZEN_C = 0.0


@dataclass(frozen=True, slots=True)
class GoReason:
    """One thing that speaks against it, or that one should know."""

    id: str
    verdict: GoVerdict
    sentence: str


@dataclass(frozen=True, slots=True)
class ReadingLimit:
    """A quantity strictly ``below`` or ``above`` a figure, and what that means; ``{}`` in the sentence is
    for what was read, with so many ``digits`` (None for as many as it has). Of several with one id the first
    that is broken counts."""

    id: str
    quantity: Quantity
    side: Literal["below", "above"]
    at: float
    verdict: GoVerdict
    sentence: str
    digits: int | None

    def broken_by(self, value: float) -> bool:
        """Whether it is beyond."""
        return value < self.at if self.side == "below" else value > self.at


def limits_of(pack: Pack, rules: HouseRules) -> tuple[ReadingLimit, ...]:
    """All limits on what one reads of this pack before a run."""
    full, damaged = over_full_above_v(pack.chemistry), damaged_below_v(pack.chemistry)
    rests = "A cell rests at {} V: damaged."
    over = "A cell reads {} V, over full: check chemistry and meter."
    low, land = "the low one would be driven empty", "land early, and watch it"
    cold = f"At {{}}{DEG} its resistance is high: warm it in a pocket first."
    hot = f"At {{}}{DEG} it is too hot to run: let it cool first."
    differ = "Its cells differ by {} V: "
    alone, balanced = pack.series == 1, chemistry(pack.chemistry).balanced
    spread = (
        ReadingLimit("spread", "spread_v", "above", act_above_v(rules), "no_go", f"{differ}{low}.", 3),
        ReadingLimit("spread", "spread_v", "above", watch_above_v(rules), "careful", f"{differ}{land}.", 3),
    )
    return (
        ReadingLimit("damaged", "lowest_v", "below", damaged, "no_go", rests, 2),
        ReadingLimit("over_full", "highest_v", "above", full, "no_go", over, 2),
        *(() if alone else spread if balanced else spread[1:]),
        ReadingLimit("cold", "temperature_c", "below", min(FROZEN_C, rules.cold_run_c), "no_go", cold, None),
        ReadingLimit("cold", "temperature_c", "below", rules.cold_run_c, "careful", cold, None),
        ReadingLimit("hot", "temperature_c", "above", rules.hot_run_c, "no_go", hot, None),
    )


def values_of(reading: PackReading, temperature_c: float | None) -> dict[Quantity, float]:
    """What one reads of a pack; without a temperature or how far cells are apart where nobody read that."""
    read: dict[Quantity, float] = {
        "lowest_v": min(reading.cell_v),
        "highest_v": max(reading.cell_v),
    }
    if reading.spread_v is not None:
        read["spread_v"] = reading.spread_v
    return read if temperature_c is None else {**read, "temperature_c": temperature_c}


def broken(limits: Sequence[ReadingLimit], values: Mapping[Quantity, float]) -> Iterator[GoReason]:
    """A reason for each id whose limit is broken."""
    said = set()
    for limit in limits:
        value = values.get(limit.quantity)
        if value is None or limit.id in said or not limit.broken_by(value):
            continue
        said.add(limit.id)
        shown = plain_number(value) if limit.digits is None else f"{value:.{limit.digits}f}"
        yield GoReason(limit.id, limit.verdict, limit.sentence.format(shown))
