"""The charge lead that a charger still needs: between its output and the plug that most packs carry and
nothing reaches yet."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from coldstack.core.chain.adapters import Adapter, paths
from coldstack.core.chain.plugs import PlugEnd, plug_family
from coldstack.core.charging.charger import Charger
from coldstack.core.matching.charge import Bench
from coldstack.core.packs.pack import Pack

LEAD_MM = 300.0
"""Length that charge leads mostly have."""
USUAL_PACK_PLUG = "xt60"


def lead_to_get(charger: Charger, packs: Sequence[Pack], bench: Bench) -> Adapter | None:
    """The lead to add; None where every pack that it can charge is reached already, or plugs straight in.

    Without any pack the lead is for the plug that packs mostly carry, unless something leads to it.
    """
    if charger.by_balance:
        return None
    chargeable = [p.plug_end for p in packs if p.fit and p.chemistry in charger.chemistries]
    ends = chargeable or [PlugEnd(USUAL_PACK_PLUG)]
    pieces = (*bench.pieces, *bench.boards)
    lacking = [end for end in ends if not paths(end, charger.output_end, pieces)]
    if not lacking:
        return None
    end = Counter(lacking).most_common(1)[0][0]
    out = plug_family(charger.output_plug).name
    name = f"Charge lead {out} to {plug_family(end.family).name}"
    return Adapter("", name, (end.mate, charger.output_end.mate), length_mm=LEAD_MM, kind="lead")
