"""What is packed for a day: packs, what goes between plugs, chargers and what feeds them, and what nobody
flies without."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from coldstack.core.chain.plugs import plug_family
from coldstack.core.matching.charge import Bench
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.running.tomorrow.ready import PackAlong, fits_there
from coldstack.core.scheduling.bench import ChargerInUse

Kind = Literal["pack", "piece", "charger", "kit"]


@dataclass(frozen=True, slots=True)
class PackingItem:
    """One thing to take along, and what for."""

    kind: Kind
    name: str
    why: str = ""


KIT = (
    PackingItem("kit", "Cell checker or multimeter", "each pack is read before it runs"),
    PackingItem("kit", "Low-voltage alarm", "set as Run says"),
    PackingItem("kit", "Fire-proof bag or box", "packs travel and charge in it, apart from fuel and people"),
    PackingItem("kit", "Sand, or a bucket with a lid", "for a pack that swells or smokes"),
    PackingItem("kit", "The phone, with all of it taken along", "go or no go without a line"),
)
"""What comes along whatever is flown."""


def packing(
    packs: Sequence[PackAlong],
    links: Sequence[tuple[str, str]],
    there: Sequence[ChargerInUse],
    *,
    charged: frozenset[tuple[str, str]],
    names: dict[str, str],
    rules: HouseRules,
    bench: Bench,
) -> list[PackingItem]:
    """All of it. ``links`` are pieces between a pack and its model, with what for; ``there`` the chargers
    that are used there, ``charged`` the packs and on which of them; ``names`` those of the models."""
    out = []
    for a in packs:
        models = ", ".join(names[m] for m in a.minutes if m in names)
        out.append(PackingItem("pack", a.pack.called, f"{plug_family(a.pack.plug).name}; {models}"))
    between = dict(links)
    for a in packs:
        for fit in fits_there(a.pack, there, rules=rules, bench=bench):
            if (a.pack.id, fit.charger.id) not in charged:
                continue
            pieces = [p.name for p in fit.path.pieces] if fit.path else []
            pieces += [fit.balance.adapter] if fit.balance and fit.balance.adapter else []
            for name in pieces:
                between.setdefault(name, f"to charge {a.pack.called} on {fit.charger.name}")
    out += [PackingItem("piece", name, why) for name, why in between.items()]
    fed: dict[str, list[str]] = {}
    for c in there:
        out.append(PackingItem("charger", c.charger.name, "to charge there"))
        if c.supply:
            fed.setdefault(c.supply.name, []).append(c.charger.name)
    out += [PackingItem("charger", name, f"feeds {', '.join(of)}") for name, of in fed.items()]
    return [*out, *KIT]
