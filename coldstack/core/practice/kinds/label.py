"""Read a label: cells, end volts, energy, amps of one C."""

from __future__ import annotations

import math
from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.amps import pack_limit
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.charged import BURNS_TIMES, may_have
from coldstack.core.practice.gear import a_pack
from coldstack.core.practice.task import (
    Answers,
    Came,
    Exercise,
    Given,
    JudgedAnswer,
    Number,
    PracticeTask,
    TaskQuestion,
    judged,
    number_of,
)
from coldstack.core.readings.tolerance import over_full_above_v
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.units import plain_number
from coldstack.core.working import Step, Working

ID, NAME = "label", "Read a label"
VOLTS_OFF, SHARE_OFF = 0.05, 0.02
"""An answer may be rounded by so much. House figure. [V]"""


def make(by: Chance, given: Given) -> Exercise:
    """A label, and what a beginner must get from it."""
    made, rules = a_pack(by, given), given.rules
    pack, cell = made.pack, chemistry(made.pack.chemistry)
    volts, amps = pack.series * cell.nominal_v, pack.capacity_ah
    one_c = _Asked("one_c", "How many amps is one C?", "A", 0.1, amps, SHARE_OFF * amps, BURNS_TIMES * amps)
    asked = [
        _cells(pack),
        *_end(pack, rules),
        one_c,
    ]
    steps = [
        Step("Cells", "printed volts ÷ volts of a cell", f"{_n(volts)} ÷ {cell.nominal_v}"),
        *_end_steps(pack, rules),
        Step("One C", "mAh ÷ 1000", f"{1000 * pack.capacity_ah:.0f} ÷ 1000 = {_n(pack.capacity_ah)} A"),
    ]
    if given.level != "first_day":
        energy, most = amps * volts, pack_limit(pack, rules)
        words = f"With how many amps may it be charged at most, by “{rules.name}”?"
        off, burns_a = SHARE_OFF * most.current_a, BURNS_TIMES * may_have(pack, rules).current_a
        asked += [
            _Asked("energy_wh", "How many watt-hours does it hold?", "Wh", 0.1, energy, SHARE_OFF * energy),
            _Asked("charge_a", words, "A", 0.1, most.current_a, off, burns_a),
        ]
        told = f"{_n(pack.capacity_ah)} Ah × {_n(volts)} V = {_n(energy)} Wh"
        steps += [Step("Energy", "Ah × printed volts", told), Step(most.name, most.formula, most.numbers)]
    questions = tuple(TaskQuestion(a.id, a.words, Number(a.unit, a.step)) for a in asked)
    own = given.is_own(pack)
    task = PracticeTask(
        ID, given.level, given.seed, "What does this label say?", (made.label,), questions, own
    )

    def judge(answers: Answers) -> JudgedAnswer:
        came = tuple(_came(a, number_of(answers, a.id)) for a in asked)
        return judged(came, Working("From the label", tuple(steps)), rules.cited)

    return Exercise(task, judge)


@dataclass(frozen=True, slots=True)
class _Asked:
    """A number that is asked: in which unit and steps, what is right, how far off it may be, and above what
    a charger that is set by it does harm."""

    id: str
    words: str
    unit: str
    step: float
    right: float
    off: float
    harms_over: float = math.inf


def _cells(pack: Pack) -> _Asked:
    """Its cells; what is charged to its peak is not driven over full by a wrong count."""
    series = float(pack.series)
    harms_over = series if chemistry(pack.chemistry).charge_method == "cc_cv" else math.inf
    return _Asked("series", "How many cells in series?", "", 1.0, series, 0.0, harms_over)


def _end(pack: Pack, rules: HouseRules) -> list[_Asked]:
    if chemistry(pack.chemistry).charge_method != "cc_cv":
        return []
    end_v = pack.series * for_chemistry(rules, pack.chemistry).full_v
    over_v = pack.series * over_full_above_v(pack.chemistry)
    return [_Asked("end_v", "At how many volts does its charge end?", "V", 0.1, end_v, VOLTS_OFF, over_v)]


def _end_steps(pack: Pack, rules: HouseRules) -> list[Step]:
    full_v = for_chemistry(rules, pack.chemistry).full_v
    told = f"{pack.series} × {_n(full_v)} = {_n(pack.series * full_v)} V"
    return [Step("End volts", "cells × full cell", told)] if _end(pack, rules) else []


def _came(asked: _Asked, value: float) -> Came:
    said = f"{_n(asked.right)} {asked.unit}".strip()
    if abs(value - asked.right) <= asked.off + 1e-9:
        return Came(asked.id, "right", "Right.", said)
    if value > asked.harms_over + 1e-9:
        times = f"{value / asked.right:.2g} times"
        why = {
            "series": f"A charger set to {value:g} cells goes on past full, until something burns.",
            "end_v": f"At {_n(value)} V every cell is over full. That is how fires start.",
            "one_c": f"{_n(value)} A is {times} one C: the decimal point is in another place.",
            "charge_a": f"{_n(value)} A is {times} what it may have.",
        }[asked.id]
        return Came(asked.id, "dangerous", why, said)
    return Came(asked.id, "wasteful", f"Not {_n(value)}: {said}.", said)


def _n(value: float) -> str:
    return plain_number(value)
