"""A year in the lives of the club's packs: made up from each pack's figures, the same each time, up to the
day they are loaded."""

from __future__ import annotations

from datetime import datetime, timedelta
from zlib import crc32

import numpy as np

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.cells.resistance import temperature_factor
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event

TYPICAL_MOHM_AH = 11.0
ICE_RACER, ICE_RACER_A, ICE_RACER_MIN = "stoat", 27.4, 7.2
"""The ice racer draws a little more over a year than on the day when it was measured."""
RACED = ("14", "15", "17")
RAINED_OFF = ("06", "15")
"""Charged for a day that was rained off."""
JUST_RUN = ("01", "02")


def history(pack: OwnedPack, now: datetime) -> list[Event]:
    """About thirty charges over a year, with the runs before them where they were noted; then how it was
    left: stored, but for those the story says otherwise of."""
    chance = np.random.default_rng(crc32(pack.tag.encode()))
    charges = int(chance.integers(24, 40))
    start_mohm = (pack.cell_mohm or TYPICAL_MOHM_AH / pack.capacity_ah) / _growth(pack, 1.0)
    own_mohm = start_mohm * (1 + 0.03 * chance.standard_normal(pack.series))
    charged = [_charged(pack, now, n, n / (charges - 1), own_mohm, chance) for n in range(charges)]
    return [*charged, *_raced(charged), *_left(pack, now)]


def _charged(
    pack: OwnedPack,
    now: datetime,
    n: int,
    share: float,
    own_mohm: np.ndarray,
    chance: np.random.Generator,
) -> Event:
    """Its charge ``n``, at this share of the year: in the evening, after an afternoon on the
    lake."""
    day = now - timedelta(days=365 * (1 - share) * 0.92 + 26)
    at = day.replace(hour=16, minute=0) + timedelta(minutes=float(chance.uniform(0, 200)))
    room = 15 + 9 * np.sin(2 * np.pi * at.timetuple().tm_yday / 365 - 1.9) + chance.normal(0, 1.5)
    cells = own_mohm * _growth(pack, share) * temperature_factor(room)
    cells *= 1 + 0.03 * chance.standard_normal(pack.series)
    rest = resting_voltage(pack.chemistry, 0.25) + 0.003 * chance.standard_normal(pack.series)
    lazy = "lazy" in pack.note
    if lazy:
        # the last cell went lazy in the last months
        cells[-1] *= 1 + 0.75 * max(0.0, share - 0.7) / 0.3
        rest[-1] -= 0.11 * max(0.0, share - 0.6) / 0.4
    capacity = pack.capacity_ah * _holds(pack, share) * (1 + 0.012 * chance.standard_normal())
    minutes = None
    if pack.tag in RACED:
        minutes = float(ICE_RACER_MIN * _holds(pack, share) * (1 + 0.05 * chance.standard_normal()))
    balance = float(abs(chance.normal(4, 1.5))) + (12 if lazy and share > 0.8 else 0)
    return Event(
        key=f"demo-{pack.tag}-charge-{n:04d}",
        pack=pack,
        at=at,
        said=at,
        kind="charge",
        by="charger",
        ended="done",
        temperature_c=round(float(room), 1),
        soc=0.6,
        cell_mohm=[round(float(r), 2) for r in cells],
        cell_v=[round(float(v), 3) for v in rest],
        capacity_ah=round(float(capacity), 3),
        minutes=None if minutes is None else round(minutes, 1),
        balance_min=round(balance, 1),
    )


def _raced(charges: list[Event]) -> list[Event]:
    """The runs before those charges whose minutes were noted, with what the charge put back."""
    out = []
    for n, charge in enumerate(charges):
        if charge.minutes is None:
            continue
        chance = np.random.default_rng(crc32(f"{charge.pack.tag} run {n + 1}".encode()))
        mah = charge.minutes / 60 * ICE_RACER_A * 1000 * (1 + 0.07 * chance.standard_normal())
        at = charge.at - timedelta(hours=1.5)
        out.append(
            Event(
                key=f"demo-{charge.pack.tag}-{n:04d}",
                pack=charge.pack,
                at=at,
                said=at,
                kind="run",
                model=ICE_RACER,
                minutes=charge.minutes,
                mah=round(float(mah), -1),
                landing_cell_v=round(float(3.71 + 0.03 * chance.standard_normal()), 2),
            )
        )
        charge.minutes = None  # the run tells them
    return out


def _growth(pack: OwnedPack, share: float) -> float:
    """Resistance over its first at this share of the year."""
    return 1 + (0.62 if "ageing" in pack.note else 0.08) * share


def _holds(pack: OwnedPack, share: float) -> float:
    return 1 - (0.17 if "ageing" in pack.note else 0.035) * share


def _left(pack: OwnedPack, now: datetime) -> list[Event]:
    """Brought to storage after the year's last charge; some were charged since, or run."""
    days = {"stored": 9.0, "full": 21.0, "spent": 0.2}
    state = "full" if "left full" in pack.note else "spent" if pack.tag in JUST_RUN else "stored"
    if pack.tag in RAINED_OFF:
        days, state = {"full": 1.2}, "full"
    out = [_at(pack, now - timedelta(days=25), "stored", kind="state", state="stored")]
    at = now - timedelta(days=days[state])
    if state == "full":
        return [*out, _at(pack, at, "filled", kind="charge", by="charger", ended="done")]
    return [*out, _at(pack, at, "left", kind="state", state=state)]


def _at(pack: OwnedPack, at: datetime, what: str, **told: str) -> Event:
    return Event(key=f"demo-{pack.tag}-{what}", pack=pack, at=at, said=at, **told)
