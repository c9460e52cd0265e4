"""Packs and chargers to practise on: one's own, or made up by chance as a club's shelf has them, of the demo
world's makers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.amps import OF_TODAY, pack_limit
from coldstack.core.charging.charger import Charger
from coldstack.core.matching.charge import Bench
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.task import Given, Level, Thing
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import lower_first, plain_number

MAKERS = ("Fellside", "Hollin", "Tarnlight", "Brackwater", "Skarn")
CHARGERS = ("Skerry", "Cairn")
_MAH = (450, 850, 1000, 1300, 1500, 1800, 2200, 2700, 3300, 4000, 5000, 6200, 8000)
_CHEMISTRIES: dict[Level, tuple[str, ...]] = {
    "first_day": ("lipo",),
    "season": ("lipo", "lipo", "lihv", "nimh"),
    "expert": ("lipo", "lihv", "liion", "lifepo4", "nimh"),
}
_SERIES: dict[Level, tuple[int, ...]] = {
    "first_day": (2, 3, 4),
    "season": (1, 2, 3, 4, 5, 6),
    "expert": (1, 2, 3, 4, 5, 6, 7, 8, 10, 12),
}

_GRAMS_A_CELL_AH, _PRICE_A_WH = 23.5, 0.6
"""What made-up packs weigh and cost. House figures."""
_TRIES = 200


@dataclass(frozen=True, slots=True)
class LabelledPack:
    """A pack, and its label as it is printed."""

    pack: Pack
    label: Thing


def any_pack(_: Pack) -> bool:
    """Any will do."""
    return True


def a_pack(
    by: Chance, given: Given, tag: str = "the pack", suits: Callable[[Pack], bool] = any_pack
) -> LabelledPack:
    """A pack that suits: of one's own where one of those does, else made up, with a label that says all that
    a task needs."""
    own = [p for p in given.shelf.packs if suits(p)] if given.shelf else []
    if own:
        pack = by.one_of(own)
        label = _label(pack, pack.name, pack.called, given.level)
        return LabelledPack(pack, replace(label, lines=(*label.lines, *_today(pack, given.rules))))
    for _ in range(_TRIES):
        pack, maker = _made_up(by, given.level, tag)
        if suits(pack):
            return LabelledPack(pack, _label(pack, maker, tag, given.level))
    raise AssertionError(f"no made-up pack suits {tag}")


def _today(pack: Pack, rules: HouseRules) -> tuple[str, ...]:
    """What no label says, and its owner knows: why it is charged with care."""
    limit = pack_limit(pack, rules)
    return (f"{lower_first(limit.name)}: {limit.formula}",) if limit.id in OF_TODAY else ()


def _made_up(by: Chance, level: Level, tag: str) -> tuple[Pack, str]:
    kind = by.one_of(_CHEMISTRIES[level])
    cell = chemistry(kind)
    series, mah = by.one_of(_SERIES[level]), by.one_of(_MAH)
    charge_c = by.one_of((None, 1.0, 2.0, 5.0)) if cell.charge_method == "cc_cv" else None
    label_c, maker = by.one_of((20, 25, 30, 35, 50, 75)), by.one_of(MAKERS)
    pack = Pack(
        id=f"practice:{tag}",
        name=f"{maker} {series}S {mah}",
        chemistry=kind,
        series=series,
        capacity_ah=mah / 1000,
        mass_g=max(5.0, round(series * mah / 1000 * _GRAMS_A_CELL_AH)),
        label_c=float(label_c),
        charge_c=charge_c,
        price=float(max(4, round(_PRICE_A_WH * series * mah / 1000 * cell.nominal_v))),
    )
    return pack, maker


def _label(pack: Pack, maker: str, name: str, level: Level) -> Thing:
    cell = chemistry(pack.chemistry)
    rate = "" if pack.label_c is None else f"  {pack.label_c:g}C"
    volts = f"{plain_number(pack.series * cell.nominal_v)} V"
    printed = [
        f"{maker} {cell.name}",
        f"{1000 * pack.capacity_ah:.0f} mAh{rate}",
        # beginners are shown the count; later on the volts must do
        f"{pack.series}S  {volts}" if level == "first_day" else volts,
    ]
    if pack.charge_c is not None:
        printed.append(f"charge {pack.charge_c:g}C")
    return Thing("label", name, tuple(printed))


@dataclass(frozen=True, slots=True)
class OnBench:
    """A charger with its sheet as it is printed, and what lies beside it."""

    charger: Charger
    sheet: Thing
    bench: Bench


LEAD = Adapter(
    "practice-lead", "the charge lead", (PlugEnd("xt60", "device"), PlugEnd("banana_4", "pack")), kind="lead"
)


def a_charger(by: Chance, given: Given, *, ports: int = 1, output: str = "banana_4") -> OnBench:
    """A charger on the mains: of one's own where there is one, else made up, for every pack of the level."""
    own = [c for c in given.shelf.chargers if "mains" in c.inputs] if given.shelf else []
    if own and given.shelf:
        charger = by.one_of(own)
        return OnBench(charger, sheet_of(charger), given.shelf.bench)
    watts, amps = by.one_of(((50, 5), (80, 6), (150, 10), (300, 15), (600, 20)))
    step = by.one_of((0.1, 0.1, 0.5)) if given.level != "first_day" else 0.1
    charger = Charger(
        id="practice",
        name=f"{by.one_of(CHARGERS)} {watts}",
        chemistries=("lipo", "lihv", "liion", "lifepo4", "nimh"),
        series_max=12,
        nimh_cells_max=16,
        port_a=float(amps),
        port_w=float(watts),
        mains_w=float(watts) if ports == 1 else by.one_of((1.0, 1.5, 2.0)) * watts,
        dc_w=None if ports == 1 else by.one_of((1.0, 1.5, 2.0)) * watts,
        ports=ports,
        step_a=step,
        discharge_w=10.0,
        output_plug=output,
    )
    lead = replace(LEAD, ends=(LEAD.ends[0], PlugEnd(output, "pack")))
    return OnBench(charger, sheet_of(charger), Bench((lead,)))


def sheet_of(charger: Charger) -> Thing:
    """What its sheet says of the amps."""
    n = plain_number
    port = "a port" if charger.ports > 1 else ""
    lines = [
        f"{n(charger.port_w, 4)} W {port}".strip(),
        f"up to {n(charger.port_a)} A {port}".strip(),
        f"amps in steps of {charger.step_a:g} A",
    ]
    if charger.ports > 1 and charger.mains_w is not None:
        lines.append(f"{charger.ports} ports, {n(charger.mains_w, 4)} W in all on the mains")
    if charger.ports > 1 and charger.dc_w is not None:
        lines.append(f"{n(charger.dc_w, 4)} W in all on DC")
    return Thing("sheet", charger.name, tuple(lines))
