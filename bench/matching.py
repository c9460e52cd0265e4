"""Times of matching and of files: the grid of packs against models and chargers, a long catalogue imported."""

from __future__ import annotations

import time

from django.db.models import F

from coldstack.core.matching import grid as core_grid
from coldstack.server.gear.file_reading import read_file
from coldstack.server.gear.imports import plan_import, store
from coldstack.server.gear.models import CataloguePack, Charger, OwnedPack, RcModel
from coldstack.server.gear.progress import Progress
from coldstack.server.matching.assemble import grid_out
from coldstack.server.matching.schemas import GridIn

CATALOGUE_ROWS = 5000


def matching_lines() -> list[str]:
    """The grid the first time and again, and the import of a catalogue, in the demo world."""
    size = f"{OwnedPack.live.count()} packs × {RcModel.live.count()} models + {Charger.live.count()} chargers"
    cold = []
    for _ in range(5):
        core_grid._kept.cache_clear()
        cold.append(_milliseconds(lambda: grid_out(GridIn())))
    warm = [_milliseconds(lambda: grid_out(GridIn())) for _ in range(10)]
    edited = [_milliseconds(lambda: grid_out(GridIn())) for _ in range(5) if _edit_a_pack()]
    return [
        f"grid of {size}: {sorted(cold)[2]:.0f} ms with nothing kept (at start), {sorted(edited)[2]:.0f} ms after a pack changed, {sorted(warm)[5]:.0f} ms again",
        _import_line(),
    ]


def _edit_a_pack() -> bool:
    return bool(OwnedPack.objects.filter(tag="04").update(mass_g=F("mass_g") + 1))


def _import_line() -> str:
    head = "name,chemistry,series,parallel,capacity_ah,label_c,mass_g,length_mm,width_mm,height_mm,plug\n"
    rows = "".join(f"Bench {i},lipo,{2 + i % 5},1,{1 + i % 60 / 10},{20 + i % 50},{150 + i % 400},120,42,28,xt60\n" for i in range(CATALOGUE_ROWS))  # fmt: skip
    start, progress = time.perf_counter(), Progress()
    store(
        plan_import(read_file("bench.csv", (head + rows).encode(), "catalogue").rows, progress),
        "bench",
        progress,
    )
    seconds = time.perf_counter() - start
    CataloguePack.objects.filter(name__startswith="Bench ").delete()
    return f"import of {CATALOGUE_ROWS} catalogue rows: {seconds:.1f} s"


def _milliseconds(call) -> float:
    start = time.perf_counter()
    call()
    return (time.perf_counter() - start) * 1e3
