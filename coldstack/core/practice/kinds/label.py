"""Read a label: cells, end volts, energy, amps of one C."""

from __future__ import annotations

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.gear import made_up_pack
from coldstack.core.practice.task import (
    Answers,
    Came,
    Exercise,
    Judged,
    Level,
    Number,
    Question,
    Task,
    judged,
    number_of,
)
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.units import plain_number
from coldstack.core.working import Step, Working

ID, NAME = "label", "Read a label"
VOLTS_OFF, SHARE_OFF = 0.05, 0.02
"""An answer may be rounded by so much. House figure. [V]"""


def make(by: Chance, seed: int, level: Level, rules: HouseRules) -> Exercise:
    """A label, and what a beginner must get from it."""
    made = made_up_pack(by, level, "the pack")
    pack, cell = made.pack, chemistry(made.pack.chemistry)
    asked = [Question("series", "How many cells in series?", Number("", 1.0))]
    right: dict[str, tuple[float, float]] = {"series": (float(pack.series), 0.0)}
    ends_v = pack.series * for_chemistry(rules, pack.chemistry).full_v
    steps = [
        Step(
            "Cells",
            "printed volts ÷ volts of a cell",
            f"{_n(pack.series * cell.nominal_v)} ÷ {cell.nominal_v}",
        )
    ]
    if cell.charge_method == "cc_cv":
        asked.append(Question("end_v", "At how many volts does its charge end?", Number("V", 0.1)))
        right["end_v"] = ends_v, VOLTS_OFF
        full_v = for_chemistry(rules, pack.chemistry).full_v
        steps.append(Step("End volts", "cells × full cell", f"{pack.series} × {_n(full_v)} = {_n(ends_v)} V"))
    amps = pack.capacity_ah
    asked.append(Question("one_c", "How many amps is one C?", Number("A", 0.1)))
    right["one_c"] = amps, SHARE_OFF * amps
    steps.append(Step("One C", "mAh ÷ 1000", f"{1000 * amps:.0f} ÷ 1000 = {_n(amps)} A"))
    if level != "first_day":
        energy = pack.capacity_ah * pack.series * cell.nominal_v
        asked.append(Question("energy_wh", "How many watt-hours does it hold?", Number("Wh", 0.1)))
        right["energy_wh"] = energy, SHARE_OFF * energy
        steps.append(
            Step("Energy", "Ah × printed volts", f"{_n(amps)} × {_n(energy / amps)} = {_n(energy)} Wh")
        )
    task = Task(ID, level, seed, "What does this label say?", (made.label,), tuple(asked))

    def judge(answers: Answers) -> Judged:
        return judged(
            tuple(_came(q, number_of(answers, q.id), *right[q.id]) for q in task.questions),
            Working("From the label", tuple(steps)),
            rules.cited,
        )

    return Exercise(task, judge)


def _came(question: Question, value: float, right: float, off: float) -> Came:
    unit = question.asks.unit if isinstance(question.asks, Number) else ""
    said = f"{_n(right)} {unit}".strip()
    if abs(value - right) <= off + 1e-9:
        return Came(question.id, "right", "Right.", said)
    # set by it, a charger would go on past full, or push a multiple of what the pack takes
    if value > right:
        why = {
            "series": f"A charger set to {value:g} cells goes on past full, until something burns.",
            "end_v": f"At {value:g} V every cell is over full. That is how fires start.",
            "one_c": f"{value:g} A is {value / right:.2g} times one C.",
        }.get(question.id)
        if why is not None:
            return Came(question.id, "dangerous", why, said)
    return Came(question.id, "wasteful", f"Not {value:g}: {said}.", said)


def _n(value: float) -> str:
    return plain_number(value)
