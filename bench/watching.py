"""Times of the watch over sixteen charges on sixteen ports, and of the page that shows them."""

from __future__ import annotations

import json
import tempfile
import time
from pathlib import Path

from django.db import transaction
from django.test import override_settings
from django.utils import timezone

from coldstack.server.charges.models import Charge
from coldstack.server.charges.views import alarms_out, charge_out, glances_out
from coldstack.server.charges.watcher import Watcher
from coldstack.standins.charger import SimulatedCharger, listen

PORTS, MINUTES = 16, 20
CELLS = 4
NAME = "Bench Sixteen"


def watching_lines() -> list[str]:
    """Median and worst milliseconds of a tick in twenty minutes of charging; everything is taken back."""
    with tempfile.TemporaryDirectory() as folder, override_settings(DATA_DIR=folder), transaction.atomic():
        device = SimulatedCharger(NAME, PORTS, ("lipo",))
        server = listen(device, 0)
        Path(folder, "devices.json").write_text(json.dumps({"chargers": {NAME: f"127.0.0.1:{server.port}"}}))
        charges = [_begun(device, port) for port in range(1, PORTS + 1)]
        watcher, ticks = Watcher(), []
        for _ in range(MINUTES * 60 // 5):
            device.pass_time(5)
            ticks.append(_ms(lambda: watcher.round(NAME)))
        first, glance, bar = _ms(glances_out), _median_ms(glances_out), _median_ms(alarms_out)
        page = _median_ms(lambda: charge_out(Charge.objects.get(pk=charges[0].pk)))
        running = Charge.objects.filter(state="charging", charger_name=NAME).count()
        server.shutdown()
        server.server_close()
        transaction.set_rollback(True)
    ticks.sort()
    middle = ticks[len(ticks) // 2]
    return [
        f"the watch over {running} ports: a tick {middle:.0f} ms, at most {ticks[-1]:.0f} ms; "
        f"all at a glance {glance:.0f} ms ({first:.0f} ms the first time), one of them {page:.0f} ms, "
        f"the alarms {bar:.0f} ms"
    ]


def _ms(work) -> float:
    start = time.perf_counter()
    work()
    return (time.perf_counter() - start) * 1e3


def _median_ms(work, rounds: int = 15) -> float:
    return sorted(_ms(work) for _ in range(rounds))[rounds // 2]


def _begun(device: SimulatedCharger, port: int) -> Charge:
    """A charge as a start leaves it."""
    cells = [{"capacity_ah": 2.8, "resistance_mohm": 4.0, "soc": 0.2} for _ in range(CELLS)]
    order = {
        "chemistry": "lipo",
        "program": "balance",
        "cells": CELLS,
        "current_a": 2.8,
        "end_cell_v": 4.2,
        "timer_s": 5400.0,
        "cutoff_mah": 3000.0,
    }
    about = {"chemistry": "lipo", "cells": cells, "mass_g": 300.0, "air_c": 21.0}
    device.answer({"do": "plug", "port": port, "pack": about})
    device.answer({"do": "start", "port": port, "run": f"bench-{port}", **order})
    expected = {
        "chemistry": "lipo",
        "series": CELLS,
        "capacity_ah": 2.8,
        "current_a": 2.8,
        "full_cell_v": 4.2,
        "timer_s": 5400.0,
        "cutoff_mah": 3000.0,
        "look_every_s": 1200.0,
        "supply_min_v": None,
        "cells": cells,
        "balance_a": 0.8,
    }
    return Charge.objects.create(
        label=f"P{port}",
        charger_name=NAME,
        port=port,
        key=f"bench-{port}",
        run=f"bench-{port}",
        state="charging",
        started=timezone.now(),
        settings={"program": "balance", "minutes": 60},
        expected=expected,
    )
