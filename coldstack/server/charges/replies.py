"""What is told of charges and alarms. Names and units are the core's."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from coldstack.core.charging.steps import BenchStep
from coldstack.core.drawings.cells import CellsCharging
from coldstack.core.watching.alarm import JUDGED_WITHIN_S
from coldstack.core.watching.glance import Urgency


class AlarmOut(BaseModel):
    """Something wrong."""

    id: int
    kind: str
    level: str
    time_s: float
    sentence: str
    over: bool


class StandingAlarm(AlarmOut):
    """An alarm on every stage: of which packs and where, when, what was done, and what to do now, in order.

    ``urgent``: it calls somebody at once. ``charge`` is null for one that nobody here began.
    """

    charge: int | None
    label: str
    where: str
    at: datetime
    done: str
    urgent: bool
    todo: list[str]


class AlarmsOut(BaseModel):
    """What is wrong now, the worst first, and what charges. ``could_be``: the packs that a charge which
    nobody here began may be one of."""

    alarms: list[StandingAlarm]
    charging: list[str]
    could_be: list[str]


class ChargeLine(BaseModel):
    """A charge in a list.

    ``state`` is "starting", "charging", "stopping", "done", "stopped" or "failed". Of one that is to stop,
    ``stop_why`` says why and ``stop_outcome`` what came of it: "asked", "refused", "unheard", "gone_on" or
    "unproved"; ``stop_said`` says it. ``judged_ago_s`` is how long ago the watch judged it, null once it is
    over. [s]
    """

    id: int
    label: str
    packs: list[str]
    charger_name: str
    port: int
    state: str
    started: datetime
    ended_why: str
    stop_why: str
    stop_outcome: str
    stop_said: str
    judged_ago_s: float | None
    judged_within_s: float = JUDGED_WITHIN_S
    summary: dict[str, float | list[float] | None]


class SamplesOut(BaseModel):
    """Samples as columns: minutes, volts (a list for each cell), amps, temperature, mAh."""

    minutes: list[float]
    cell_v: list[list[float]]
    current_a: list[float]
    temperature_c: list[float | None]
    mah: list[float]


class RunningOut(ChargeLine):
    """A charge to watch: what it was set to, what was measured and is expected, alarms, the next look."""

    settings: dict[str, float | int | str]
    time_s: float
    look_due_s: float
    look_stop_s: float
    full_cell_v: float
    trace: SamplesOut
    expected: SamplesOut
    alarms: list[AlarmOut]
    cells: CellsCharging
    lowest_v: float
    """What a cell reads that is empty; full it is ``full_cell_v``."""
    simulated: bool
    speed: float
    unplug: list[BenchStep]


class GlanceOut(BaseModel):
    """A charge that runs, at a glance: its cells now, what a cell was expected to read, the next look.

    ``empty_v`` and ``full_v`` are the ends of the scale. ``urgency`` is "stop", "warn", "look" or "well";
    ``said`` is the worst alarm's sentence.
    """

    id: int
    label: str
    charger_name: str
    port: int
    urgency: Urgency
    said: str
    minutes: float
    of_minutes: float
    look_in_s: float
    cell_v: list[float]
    expected_cell_v: float | None
    empty_v: float
    full_v: float
    current_a: float | None
    temperature_c: float | None
    judged_ago_s: float
    judged_within_s: float = JUDGED_WITHIN_S


class LevelOut(BaseModel):
    """What a field battery holds now, and of how much; when it was told, null where nobody did, and whether
    that follows from volts. [Wh]"""

    supply: str
    left_wh: float | None
    of_wh: float | None
    at: datetime | None
    by_volts: bool
