"""A year of records for the club's packs: made up from each pack's figures, the same each time, up to the day they are loaded."""

from __future__ import annotations

from datetime import datetime, timedelta
from zlib import crc32

import numpy as np

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.cells.resistance import temperature_factor
from coldstack.server.gear.models import OwnedPack
from coldstack.server.logbook.models import PackRecord, RunLog

TYPICAL_MOHM_AH = 11.0
ICE_RACER, ICE_RACER_A, ICE_RACER_MIN = "stoat", 27.4, 7.2
"""The ice racer draws a little more over a year than on the day when it was measured."""
RACED = ("14", "15", "17")


def history(pack: OwnedPack, now: datetime) -> list[PackRecord]:
    """About thirty charges over a year, then how it was left: stored, but for those the story says otherwise of."""
    chance = np.random.default_rng(crc32(pack.tag.encode()))
    charges = int(chance.integers(24, 40))
    start_mohm = (pack.cell_resistance_mohm or TYPICAL_MOHM_AH / pack.capacity_ah) / _growth(pack, 1.0)
    own = 1 + 0.03 * chance.standard_normal(pack.series)
    out = []
    for n in range(charges):
        share = n / (charges - 1)
        # charged in the evening, after an afternoon on the lake
        day = now - timedelta(days=365 * (1 - share) * 0.92 + 26)
        at = day.replace(hour=16, minute=0) + timedelta(minutes=float(chance.uniform(0, 200)))
        room = 15 + 9 * np.sin(2 * np.pi * at.timetuple().tm_yday / 365 - 1.9) + chance.normal(0, 1.5)
        cells = start_mohm * _growth(pack, share) * own * temperature_factor(room) * (1 + 0.03 * chance.standard_normal(pack.series))  # fmt: skip
        rest = resting_voltage(pack.chemistry, 0.25) + 0.003 * chance.standard_normal(pack.series)
        if "lazy" in pack.note:
            # the last cell went lazy in the last months
            cells[-1] *= 1 + 0.75 * max(0.0, share - 0.7) / 0.3
            rest[-1] -= 0.11 * max(0.0, share - 0.6) / 0.4
        capacity = pack.capacity_ah * _holds(pack, share) * (1 + 0.012 * chance.standard_normal())
        out.append(PackRecord(
            pack=pack, at=at, cycle=n + 1, temperature_c=round(float(room), 1), soc=0.6, cell_mohm=[round(float(r), 2) for r in cells],
            rest_cell_v=[round(float(v), 3) for v in rest], capacity_ah=round(float(capacity), 3),
            run_minutes=round(float(ICE_RACER_MIN * _holds(pack, share) * (1 + 0.05 * chance.standard_normal())), 1) if pack.tag in RACED else None,
            balance_min=round(float(abs(chance.normal(4, 1.5))) + (12 if "lazy" in pack.note and share > 0.8 else 0), 1),
        ))  # fmt: skip
    out += _left(pack, now, charges)
    return out


def raced(records: list[PackRecord]) -> list[RunLog]:
    """The runs before those charges whose minutes were noted, with what the charge put back."""
    out = []
    for n, rec in enumerate(records):
        if rec.run_minutes is None:
            continue
        chance = np.random.default_rng(crc32(f"{rec.pack.tag} run {rec.cycle}".encode()))
        mah = rec.run_minutes / 60 * ICE_RACER_A * 1000 * (1 + 0.07 * chance.standard_normal())
        out.append(RunLog(
            key=f"demo-{rec.pack.tag}-{n:04d}", pack=rec.pack, model_slug=ICE_RACER, at=rec.at - timedelta(hours=1.5), minutes=rec.run_minutes,
            put_back_mah=round(float(mah), -1), landing_cell_v=round(float(3.71 + 0.03 * chance.standard_normal()), 2),
        ))  # fmt: skip
    return out


def _growth(pack: OwnedPack, share: float) -> float:
    """Resistance over its first at this share of the year."""
    return 1 + (0.62 if "ageing" in pack.note else 0.08) * share


def _holds(pack: OwnedPack, share: float) -> float:
    return 1 - (0.17 if "ageing" in pack.note else 0.035) * share


def _left(pack: OwnedPack, now: datetime, cycle: int) -> list[PackRecord]:
    days, state = (21.0, "full") if "left full" in pack.note else (9.0, "stored")
    if pack.tag in ("04", "15"):
        days, state = 1.2, "full"  # charged for a day that was rained off
    if pack.tag in ("01", "02"):
        days, state = 0.2, "spent"
    return [PackRecord(pack=pack, at=now - timedelta(days=days), cycle=cycle, state=state, source="by hand")]
