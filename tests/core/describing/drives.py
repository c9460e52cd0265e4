"""The models of all classes with what drives them: motor, propeller, rotor, speed, hull
(tests/data/drives.csv), as such models mostly have it. Used as a table by the tests."""

from __future__ import annotations

import csv
from dataclasses import replace
from pathlib import Path

from coldstack.core.describing.answers import Answers
from coldstack.core.propulsion.told import Propulsion
from tests.core.describing.all_classes import RunContext, all_classes

FILE = Path(__file__).parents[2] / "data" / "drives.csv"
NUMBERS = ("rotor_mm", "speed_kmh", "waterline_mm", "wing_dm2")


def driven(model: RunContext, row: dict[str, str], *facts: str) -> Answers:
    """Its owner's answers with these facts, and with what drives it where "drive" is one."""
    answers = model.told(*facts, goals=False)
    if "pack" not in facts:
        answers = replace(answers, capacity_told=False)
    if "drive" not in facts:
        return answers
    numbers = {n: float(row[n]) if row[n] else None for n in NUMBERS}
    kv = float(row["kv"]) if row["kv"] else None
    told = Propulsion(propeller=row["propeller"], surface=row["surface"], **numbers)
    return replace(answers, propulsion=told, limits=replace(answers.limits, motor_kv=kv))


def drives() -> list[tuple[RunContext, dict[str, str]]]:
    """Each model with its row."""
    models = {m.name: m for m in all_classes()}
    with FILE.open(encoding="utf-8") as rows:
        return [(models[r["name"]], r) for r in csv.DictReader(rows)]
