"""Discharge of any number of packs: columns in, what became of each out.

The physics is `kernel`'s, pack by pack; here they are laid out for it and shared among threads. Errors
against an independent integrator are in docs/model.md.
"""

from __future__ import annotations

import os
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, fields
from functools import cache
from types import ModuleType

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import (
    slow_curve,
    slow_mohm,
    slow_time_constant_s,
    soc_factor_curve,
)
from coldstack.core.discharge.batch import (
    HEAT_CAPACITY_J_PER_KG_K,
    Discharge,
    Floats,
    PackColumns,
    Surroundings,
)
from coldstack.core.draw.scaling import LAWS, PhaseLoad
from coldstack.core.errors import DomainError
from coldstack.core.units import SECONDS_PER_HOUR

LONGEST_RUN_S = 6 * SECONDS_PER_HOUR
CURVE_STRIDE = 4
"""Every fourth point of the charge grid, straight between them: within 0.1 mV, and small enough for the
first cache."""
CHUNKS_PER_THREAD, LEAST_CHUNK = 4, 32
"""Packs are shared in so many parts a thread, since runs differ in length; fewer than a chunk are not worth
a thread."""
TRACE_ROWS = 8192
"""Room for a trace; more where steps are asked to be short. A longer one is cut."""


@dataclass(frozen=True, slots=True)
class Trace:
    """One pack at each end of a step, shape (T,): seconds, loaded volts, amps, its lowest charge, its
    hottest cell."""

    time_s: Floats
    voltage_v: Floats
    current_a: Floats
    soc: Floats
    temperature_c: Floats


def simulate(
    packs: PackColumns,
    loads: list[PhaseLoad],
    surroundings: Surroundings,
    *,
    longest_step_s: float | None = None,
    longest_run_s: float = LONGEST_RUN_S,
    kernel: ModuleType | None = None,
) -> Discharge:
    """Run every pack from its start to its landing point, or to what ends it before.

    Parameters
    ----------
    packs : PackColumns
        N packs.
    loads : list of PhaseLoad
        The duty, one value per pack and phase; repeated until the pack has ended.
    longest_step_s : float, optional
        Step limit; the error alone decides if not given. [s]
    longest_run_s : float
        Packs that run longer end so, named `RAN_TOO_LONG`. [s]
    kernel : module, optional
        Another build of `kernel`, as `compiling.plain_copy` makes it.

    Raises
    ------
    DomainError
        No phases, a phase without length, a load below zero or not finite, or columns out of range.
    """
    return _run(packs, loads, surroundings, longest_step_s, longest_run_s, 0, kernel)[0]


def traced(
    packs: PackColumns,
    loads: list[PhaseLoad],
    surroundings: Surroundings,
    *,
    longest_step_s: float | None = None,
    longest_run_s: float = LONGEST_RUN_S,
) -> tuple[Discharge, list[Trace]]:
    """`simulate`, and each pack at every end of a step: the same run to the digit, for a few packs."""
    room = TRACE_ROWS if longest_step_s is None else int(TRACE_ROWS + 2 * longest_run_s / longest_step_s)
    out, rows, filled = _run(packs, loads, surroundings, longest_step_s, longest_run_s, room, None)
    return out, [Trace(*rows[i, : filled[i]].T.copy()) for i in range(len(packs))]


def _run(
    packs: PackColumns,
    loads: list[PhaseLoad],
    surroundings: Surroundings,
    longest_step_s: float | None,
    longest_run_s: float,
    trace_rows: int,
    kernel: ModuleType | None,
) -> tuple[Discharge, Floats, np.ndarray]:
    packs.check()
    _check_duty(loads)
    k = kernel or _compiled_kernel()
    n = len(packs)
    laws = np.array([LAWS.index(p.law) for p in loads])
    seconds = np.array([float(p.duration_s) for p in loads])
    # floats, so that whole numbers given do not have the kernel compiled anew
    duty = k.Duty(laws, seconds, float(longest_run_s), float(longest_step_s or k.LONGEST_STEP_S))
    values = np.ascontiguousarray(np.array([p.value for p in loads], float).T)
    rows, groups = pack_table(packs, surroundings), _cell_table(packs, surroundings)
    figures = np.empty((n, len(fields(Discharge)) - 1))
    endings, filled = np.empty(n, np.int64), np.zeros(n, np.int64)
    trace = np.empty((n, trace_rows, 5))
    found = k.Found(figures, endings, trace, filled)

    def part(first: int, last: int) -> None:
        room = k.Room(np.empty((groups.shape[1], k.ROWS)), np.empty((len(loads), 4)))
        k.run_packs(first, last, rows, groups, values, duty, curves(), room, found)

    chunk = max(LEAST_CHUNK, -(-n // (CHUNKS_PER_THREAD * _threads())))
    if n <= LEAST_CHUNK or _threads() == 1 or kernel is not None:
        part(0, n)
    else:
        list(_pool().map(lambda first: part(first, min(first + chunk, n)), range(0, n, chunk)))
    columns = [figures[:, j].copy() for j in range(figures.shape[1])]
    columns[-1][columns[-1] < 0] = np.nan
    return Discharge(endings, *columns), trace, filled


def _check_duty(loads: list[PhaseLoad]) -> None:
    if not loads or not all(p.duration_s > 0 for p in loads):
        raise DomainError("draw", "A duty needs at least one phase, each longer than zero.")
    if not all(np.all(np.isfinite(p.value)) and np.all(p.value >= 0) for p in loads):
        raise DomainError("draw", "Every phase of a duty needs a load of zero or more.")


def pack_table(packs: PackColumns, surroundings: Surroundings) -> Floats:
    """The packs as rows of `kernel.PackRow`."""
    loss = surroundings.transfer_w_per_m2_k * packs.area_m2
    warmer_k = 0.0 if packs.warmer_k is None else packs.warmer_k
    usual_s = np.array([slow_time_constant_s(c) for c in CHEMISTRY_IDS])[packs.chemistry_index]
    usual_r1 = slow_mohm(packs.chemistry_index, packs.capacity_ah)
    columns = (
        packs.chemistry_index,
        packs.series,
        packs.outside_mohm / 1000.0,
        packs.landing_soc,
        packs.alarm_cell_v,
        packs.cutoff_cell_v,
        surroundings.air_c + warmer_k,
        0.0 if packs.ocv_shift_v is None else packs.ocv_shift_v,
        (usual_r1 if packs.slow_mohm is None else packs.slow_mohm) / 1000.0,
        usual_s if packs.slow_s is None else packs.slow_s,
        packs.series / loss,
        loss / (packs.mass_g / 1000.0 * HEAT_CAPACITY_J_PER_KG_K),
    )
    table = np.empty((len(packs), len(columns)))
    for j, column in enumerate(columns):
        table[:, j] = column
    return table


def _cell_table(packs: PackColumns, surroundings: Surroundings) -> Floats:
    """The groups of cells alike, shape (N, G, 6): count, capacity [As], R0 [Ω], charge, slow volts,
    temperature."""
    if packs.cells is None:
        columns = (packs.series, packs.capacity_ah, packs.cell_mohm, packs.start_soc)
        count, ah, mohm, soc = (c[:, None] for c in columns)
    else:
        c = packs.cells
        count, ah, mohm, soc = c.count, c.capacity_ah, c.resistance_mohm, c.start_soc
    table = np.zeros((*count.shape, 6))
    table[..., 0], table[..., 1], table[..., 2] = count, ah * SECONDS_PER_HOUR, mohm / 1000.0
    table[..., 3] = soc
    table[..., 5] = surroundings.start_c if packs.start_c is None else packs.start_c[:, None]
    if packs.warmer_k is not None:
        table[..., 5] += packs.warmer_k[:, None]
    return table


@cache
def curves() -> Floats:
    """Resting volts, charge factors of R0 and of R1, shape (chemistries, points, 3)."""
    stacks = [(ocv_curve(c), soc_factor_curve(), slow_curve(c)) for c in CHEMISTRY_IDS]
    assert GRID_CELLS % CURVE_STRIDE == 0
    return np.ascontiguousarray(np.array([np.stack(x, axis=1) for x in stacks])[:, ::CURVE_STRIDE])


def warm_up() -> None:
    """Have the kernel ready: imported, and compiled if it was not before.

    Seconds the first time, a moment after.
    """
    one = np.ones(1)
    pack = PackColumns(np.zeros(1, np.int64), one, one, one, one, one, one, one, 0 * one, one, one)
    simulate(pack, [PhaseLoad(1.0, "amps", one)], Surroundings(), longest_run_s=1.0)


@cache
def _compiled_kernel() -> ModuleType:
    # Numba takes a second to import, which a program that runs no pack need not wait for
    from coldstack.core.discharge import kernel

    return kernel


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(_threads(), thread_name_prefix="discharge")


@cache
def _threads() -> int:
    return max(1, min(8, os.cpu_count() or 1))
