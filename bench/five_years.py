"""Five years of keeping: 120 packs with 60,000 events beside the same packs with none, cold and after a
write; what must not grow with the years."""

from __future__ import annotations

import random
import time
import tracemalloc
from collections.abc import Callable, Iterator
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from coldstack.server.gear.models import OwnedPack
from coldstack.server.keeping.log_files import life_csv, log_json
from coldstack.server.keeping.page import page_out
from coldstack.server.keeping.shelf import shelf_out
from coldstack.server.life import now as life_now
from coldstack.server.life.kept import tell_anew
from coldstack.server.life.log import new_key, say
from coldstack.server.life.models import Event
from coldstack.server.rules.assemble import rules_or_house
from coldstack.server.running import go, kits
from coldstack.server.running.packs import run_packs_out
from tests.lives import forget

PACKS, CYCLES, ROUNDS = 120, 100, 9
A_CYCLE = 5
"""Events: read, looked at, charged, run, noted."""


def lived(pack: OwnedPack, now: datetime, draw: random.Random) -> Iterator[Event]:
    """Five years of one pack, as a checker, a charger and a hand tell them."""
    full = {"lipo": 4.2, "lihv": 4.35, "lifepo4": 3.6, "nimh": 1.45}.get(pack.chemistry, 4.2)
    mohm = 3.0 + draw.random()
    for k in range(CYCLES):
        at = now - timedelta(days=1826 * (1 - k / CYCLES) + 2, hours=draw.random() * 5)
        held = pack.capacity_ah * (0.98 - 0.0005 * k)

        def event(kind: str, later_min: float, at=at, k=k, **told) -> Event:
            when = at + timedelta(minutes=later_min)
            return Event(key=f"years-{pack.pk}-{k}-{kind}", pack=pack, at=when, said=when, kind=kind, **told)

        low = [round(full - 0.4 + 0.004 * draw.random(), 3) for _ in range(pack.series)]
        top = [round(full - 0.004 * draw.random(), 3) for _ in range(pack.series)]
        read = [round(mohm * (1 + 0.0008 * k) * draw.uniform(0.95, 1.05), 2) for _ in range(pack.series)]
        yield event("reading", 0, by="checker", cell_v=low, temperature_c=20.0)
        yield event("inspection", 1, at_room=True)
        yield event(
            "charge",
            60,
            by="charger",
            ended="done",
            temperature_c=21.0,
            soc=0.6,
            cell_mohm=read,
            end_cell_v=top,
            mah=round(800 * held),
            capacity_ah=held * draw.uniform(0.97, 1.03),
            balance_min=draw.uniform(3, 6),
        )
        minutes = round(draw.uniform(7.5, 8.5), 1)
        landed = round(full - 0.42, 2)
        yield event("run", 180, minutes=minutes, landing_cell_v=landed, model="ptarmigan", text="windy")
        yield event("note", 200, text=f"Flight {k} over the field, a little wind from the west.")


def forgotten() -> None:
    """As after a restart."""
    for name in ("_kept",):
        getattr(life_now, name).lives.clear()
    kits.forget_kits()


def five_years_lines() -> list[str]:
    """Each screen's time with five years over its time with none; what files give a second. All is taken
    back."""
    now, rules = timezone.now(), rules_or_house(None)
    asked: dict[str, Callable[[], object]] = {
        "shelf": lambda: shelf_out(rules, now),
        "list": lambda: run_packs_out("ptarmigan", now),
        "runs": lambda: go.runs_out("ptarmigan"),
        "page": lambda: page_out("04", rules, now),
        "kits": lambda: kits.kit_marks("ptarmigan", now),
        "kit": lambda: kits.kits_out("ptarmigan", ["04"], now),
    }
    with transaction.atomic():
        _packs()
        forget()
        tell_anew()
        none = {name: _times(call) for name, call in asked.items()}
        draw, count = random.Random(5), 0
        for pack in OwnedPack.live.all():
            rows = list(lived(pack, now, draw))
            Event.objects.bulk_create(rows, batch_size=500)
            count += len(rows)
        start = time.perf_counter()
        tell_anew()
        first = time.perf_counter() - start
        years = {name: _times(call) for name, call in asked.items()}
        files = [
            _file(name, call, count)
            for name, call in (("life.csv", life_csv), ("log.json", lambda: log_json(now)))
        ]
        transaction.set_rollback(True)
    lines = [f"{count} events of {PACKS} packs: all told anew in {first:.1f} s"]
    for name in asked:
        parts = [
            f"{kind} {1e3 * years[name][i]:.0f} ms, {years[name][i] / none[name][i]:.2f} × none"
            for i, kind in enumerate(("cold", "after a write"))
        ]
        lines.append(f"{name}: {'; '.join(parts)}")
    return [*lines, *files]


def _times(call: Callable[[], object]) -> tuple[float, float]:
    """Cold, and after a write; the best of some rounds: what else the machine does is no matter. [s]"""
    return _best(call, forgotten), _best(call, _write)


def _best(call: Callable[[], object], before: Callable[[], object]) -> float:
    found = []
    call()
    for _ in range(ROUNDS):
        before()
        start = time.perf_counter()
        call()
        found.append(time.perf_counter() - start)
    return min(found)


def _write() -> None:
    say(OwnedPack.live.get(tag="04").pk, "state", key=new_key(), state="stored")


def _packs() -> None:
    like = OwnedPack.live.get(tag="04")
    figures = {f.name: getattr(like, f.name) for f in OwnedPack._meta.fields if f.name not in ("id", "tag")}
    more = PACKS - OwnedPack.live.count()
    OwnedPack.objects.bulk_create(OwnedPack(**figures, tag=f"B{i}") for i in range(more))


def _file(name: str, call: Callable[[], Iterator[str]], count: int) -> str:
    start = time.perf_counter()
    length = sum(len(part) for part in call())
    took = time.perf_counter() - start
    tracemalloc.start()
    for _ in call():
        pass
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    held = f"{length / 1e6:.1f} MB, at most {peak / 1e6:.1f} MB held"
    return f"{name}: {count / took:.0f} events a second, {held}"
