"""Packs laid out on a bench, for the tests: read, inspected, with a board."""

from __future__ import annotations

from coldstack.core.boards.laid import BenchPack, Board, laid_packs
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.inspection import VisualCheck, inspection
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import pack_reading


def board(sockets: int = 6, **changes) -> Board:
    """A board of XT60 sockets, 20 A each, up to 6S, bananas to the charger."""
    figures = {
        "id": "b",
        "name": "Board",
        "ends": (PlugEnd("xt60", "device"), PlugEnd("banana_4", "pack")),
        "awg": 12,
        "length_mm": 150.0,
        "continuous_a": 20.0,
        "kind": "board",
        "balance_from": ("xh",),
        "balance_out": "xh",
        "balance_cells": 6,
    }
    return Board(Adapter(**{**figures, "sockets": sockets, **changes}))


def four_s(tag: str, **changes) -> Pack:
    """A 4S 4 Ah LiPo that may be charged at 2C, 3 mΩ a cell."""
    figures = {
        "id": f"owned:{tag}",
        "name": f"4S {tag}",
        "chemistry": "lipo",
        "series": 4,
        "capacity_ah": 4.0,
        "mass_g": 350.0,
        "charge_c": 2.0,
        "cell_mohm": 3.0,
        "owned": True,
    }
    return Pack(**{**figures, **changes})


def lay(pack: Pack, *cell_v: float, signs=(), temperature_c=20.0, on=None, pieces=()) -> BenchPack:
    """This pack on the bench; one voltage stands for all cells."""
    cells = cell_v * pack.series if len(cell_v) == 1 else cell_v
    reading = pack_reading(pack.chemistry, tuple(cells)) if cells else None
    found = VisualCheck(looked=True, signs=tuple(signs), temperature_c=temperature_c, reading=reading)
    looked = inspection(pack, found)
    return laid_packs([pack], [reading], [looked], trust="cautious", board=on or board(), pieces=pieces)[0]
