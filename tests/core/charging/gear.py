"""Chargers and packs for the charging tests: made up, and changed where a test needs it."""

from __future__ import annotations

from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.matching.charge import Bench
from coldstack.core.packs.pack import Pack


def charger(**changes) -> Charger:
    """One port of 60 W and 6 A up to 6S on DC."""
    figures = {
        "id": "1",
        "name": "One",
        "chemistries": ("lipo", "lihv", "nimh"),
        "series_max": 6,
        "nimh_cells_max": 12,
        "port_a": 6.0,
        "port_w": 60.0,
        "dc_w": 60.0,
        "dc_min_v": 11.0,
        "dc_max_v": 18.0,
    }
    return Charger(**{**figures, **changes})


def four_port(**changes) -> Charger:
    """Four ports of 100 W and 10 A that share 200 W on mains and 400 W on DC."""
    figures = {
        "id": "4",
        "name": "Four",
        "ports": 4,
        "port_a": 10.0,
        "port_w": 100.0,
        "mains_w": 200.0,
        "dc_w": 400.0,
        "dc_max_v": 28.0,
    }
    return charger(**{**figures, **changes})


def pack(**changes) -> Pack:
    """A 6S 5 Ah LiPo."""
    figures = {
        "id": "p",
        "name": "6S 5000",
        "chemistry": "lipo",
        "series": 6,
        "capacity_ah": 5.0,
        "mass_g": 700.0,
        "label_c": 40.0,
    }
    return Pack(**{**figures, **changes})


def lead(family: str = "xt60", **changes) -> Adapter:
    """A charge lead from bananas to a plug."""
    return Adapter(
        f"lead-{family}",
        f"{family} lead",
        (PlugEnd(family, "device"), PlugEnd("banana_4", "pack")),
        kind="lead",
        **changes,
    )


def bench(*pieces: Adapter, **more) -> Bench:
    """A bench with an XT60 lead and these pieces."""
    return Bench((lead(), *pieces), **more)


DC = Feed("dc", None, 1)
SMALL_SUPPLY = Supply("s", "small supply", "mains", 13.8, 80.0)
