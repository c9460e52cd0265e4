"""Times of matching and of files: the grid of packs against models and chargers, a long catalogue
imported."""

from __future__ import annotations

import time

from django.utils import timezone

from coldstack.server.gear.file_reading import read_file
from coldstack.server.gear.imports import plan_import, store
from coldstack.server.gear.models import CataloguePack, Charger, OwnedPack, RcModel
from coldstack.server.gear.progress import Progress
from coldstack.server.matching.assemble import grid_out
from coldstack.server.matching.schemas import GridIn
from coldstack.server.running.go import go_out
from coldstack.server.running.replies import GoIn

CATALOGUE_ROWS = 5000


def matching_lines() -> list[str]:
    """The grid the first time and again, and the import of a catalogue, in the demo world."""
    size = f"{OwnedPack.live.count()} packs × {RcModel.live.count()} models + {Charger.live.count()} chargers"
    grid_out(GridIn())
    times = sorted(_milliseconds(lambda: grid_out(GridIn())) for _ in range(15))
    return [f"grid of {size}: {times[7]:.0f} ms, nothing kept", go_line(), _import_line()]


def go_line() -> str:
    """Go or no go for a pack of the demo world, cells as read."""
    data = GoIn(model="ptarmigan", pack="04", cells="4.19 4.18 4.19 4.19")
    now = timezone.now()
    go_out(data, now)
    times = sorted(_milliseconds(lambda: go_out(data, now)) for _ in range(15))
    return f"go or no go: {times[7]:.1f} ms"


def _import_line() -> str:
    head = "name,chemistry,series,parallel,capacity_ah,label_c,mass_g,length_mm,width_mm,height_mm,plug\n"
    rows = "".join(
        f"Bench {i},lipo,{2 + i % 5},1,{1 + i % 60 / 10},{20 + i % 50},{150 + i % 400},120,42,28,xt60\n"
        for i in range(CATALOGUE_ROWS)
    )
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
