"""A candidate of sizing as a pack that one could put on a charger."""

from __future__ import annotations

import math

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.chain.own_plugs import plug_at
from coldstack.core.packs.pack import Pack
from coldstack.core.trial.candidates import Candidates


def considered_pack(c: Candidates, row: int = 0) -> Pack:
    """A build from cells or a made-up pack, with what is known of it; no charge rate, so that 1C holds."""

    def known(value: float) -> float | None:
        return None if math.isnan(value) else float(value)

    return Pack(
        id=c.ids[row],
        name=c.names[row],
        chemistry=CHEMISTRY_IDS[int(c.chemistry_index[row])],
        series=int(c.series[row]),
        parallel=int(c.parallel[row]),
        capacity_ah=float(c.capacity_ah[row]),
        mass_g=float(c.mass_g[row]),
        length_mm=known(c.length_mm[row]),
        width_mm=known(c.width_mm[row]),
        height_mm=known(c.height_mm[row]),
        cell_mohm=float(c.cell_mohm[row]),
        plug=plug_at(int(c.plug_index[row])).id,
        lead_awg=float(c.lead_awg[row]),
        assumed=frozenset(("plug", "lead_awg")),
    )
