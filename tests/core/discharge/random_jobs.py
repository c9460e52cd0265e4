"""Random jobs of every law, chemistry, temperature and cycle length, told to the kernel and to the oracle
alike."""

from __future__ import annotations

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.cells.resistance import slow_curve, slow_time_constant_s, soc_factor_curve
from coldstack.core.discharge.batch import CellColumns, Ending, Surroundings
from coldstack.core.discharge.simulate import simulate
from tests.core.discharge import oracle
from tests.core.discharge.packs import SLOW_TIMES, load, packs

NAMES = {
    "landing": Ending.REACHED_LANDING,
    "cutoff": Ending.REACHED_CUTOFF,
    "cannot": Ending.CANNOT_DELIVER,
    "hot": Ending.CELL_TOO_HOT,
    "long": Ending.RAN_TOO_LONG,
}


def _cells(rng: np.random.Generator, series: int, ah: float, ohm: float, unequal: bool) -> list[tuple]:
    differ = rng.normal(0, 1, (series, 3)) if unequal else np.zeros((1, 3))
    return [
        (series / len(differ), ah * (1 + 0.02 * a), ohm * float(np.exp(0.08 * b)), min(1.0, 0.99 + 0.01 * c))
        for a, b, c in differ.tolist()
    ]


def random_job(seed: int, *, unequal: bool = False) -> oracle.Job:
    """One job. A third of them is asked for so much, or so cold, that the controller stops it."""
    rng = np.random.default_rng(seed)
    name = CHEMISTRY_IDS[seed % len(CHEMISTRY_IDS)]
    cell = CHEMISTRIES[name]
    series, ah = int(rng.integers(1, 15)), float(np.exp(rng.uniform(np.log(0.3), np.log(10))))
    # minutes of the run, and the sag at its average, which the resistance follows
    minutes, sag = float(np.exp(rng.uniform(np.log(3), np.log(60)))), float(rng.uniform(0.005, 0.06))
    average = 0.8 * ah * 60 / minutes
    peak = average * float(rng.uniform(1.2, 4))
    ohm = sag * cell.nominal_v / average * (3 if seed % 3 == 0 else 1)
    mass = ah * series * cell.nominal_v / float(rng.uniform(100, 200)) * 1000
    if seed % 40 == 9:  # some get too hot
        ohm, mass = 1.5 * ohm, 0.25 * mass
    air = float(rng.uniform(-10, 40))
    cycle = float(np.exp(rng.uniform(np.log(0.5), np.log(600))))
    share = float(rng.uniform(0.05, 0.5))
    low_a = max(average - share * (peak - average), 0.3 * average)
    laws = [str(rng.choice(["amps", "power", "throttle1", "throttle2"])) for _ in range(2)]
    phases = [
        (s, law, _value(law, amps, cell.nominal_v * series))
        for s, law, amps in zip((cycle * (1 - share), cycle * share), laws, (low_a, peak), strict=True)
    ]
    cells = _cells(rng, series, ah, ohm, unequal)
    return oracle.Job(
        name,
        cells,
        float(rng.uniform(0, 0.02)) * ohm * series,
        mass,
        6 * (mass / 2e6) ** (2 / 3),
        float(rng.uniform(0.1, 0.3)),
        cell.nominal_v * 0.92,
        cell.nominal_v * 0.86,
        slow_time_constant_s(name),
        air,
        start_c=air + float(rng.choice([0.0, 10.0])),
        transfer=float(rng.choice([6.0, 12.0, 25.0])),
        phases=phases,
        factor=soc_factor_curve(),
        slow=slow_curve(name),
        slow_ratio=SLOW_TIMES,
    )


def _value(law: str, amps: float, volts: float) -> float:
    return {"amps": amps, "power": amps * volts, "throttle1": amps / volts, "throttle2": amps / volts**2}[law]


def kernel_run(job: oracle.Job, **options):
    """The same job through the kernel."""
    count, ah, ohm, soc = (np.array([c]) for c in zip(*job.cells, strict=True))
    many = count.shape[1] > 1
    pack = packs(
        chemistry=job.chemistry,
        series=count.sum(),
        capacity_ah=ah[0, 0],
        cell_mohm=1000 * ohm[0, 0],
        slow_mohm=1000 * job.slow_ratio * ohm[0, 0],
        outside_mohm=1000 * job.outside_ohm,
        mass_g=job.mass_g,
        area_m2=job.area_m2,
        start_soc=soc[0, 0],
        landing_soc=job.landing_soc,
        alarm_cell_v=job.alarm_v,
        cutoff_cell_v=job.cutoff_v,
        **({"cells": CellColumns(count, ah, 1000 * ohm, soc)} if many else {}),
    )
    phases = [load(law, value, seconds) for seconds, law, value in job.phases]
    air = Surroundings(job.air_c, job.start_c, job.transfer)
    return simulate(pack, phases, air, longest_run_s=job.longest_s, **options)
