"""To storage: which way, by what its cells read."""

from __future__ import annotations

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.programs import storage_program
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.gear import made_up_charger, made_up_pack
from coldstack.core.practice.task import (
    Answers,
    Came,
    Exercise,
    Judged,
    Level,
    Option,
    Outcome,
    Pick,
    Question,
    Task,
    Thing,
    judged,
    one_of,
)
from coldstack.core.readings.cells import pack_reading
from coldstack.core.rules.house_rules import HouseRules

ID, NAME = "storage", "To storage"
WAY = Question(
    "way",
    "It will not be used this week. What do you do?",
    Pick(
        (
            Option("charge", "Charge it to storage"),
            Option("discharge", "Discharge it to storage"),
            Option("none", "Leave it"),
        ),
        "one",
    ),
)


def make(by: Chance, seed: int, level: Level, rules: HouseRules) -> Exercise:
    """A lithium pack at rest, anywhere between landed and full."""
    made = made_up_pack(by, level, "the pack")
    while chemistry(made.pack.chemistry).storage_v is None:
        made = made_up_pack(by, level, "the pack")
    pack, cell = made.pack, chemistry(made.pack.chemistry)
    soc = by.one_of((0.15, 0.25, 0.5, 0.9, 1.0)) if level == "first_day" else by.between(0.12, 1.0)
    volts = tuple(
        round(resting_voltage(cell.id, soc) + by.between(-0.003, 0.003), 3) for _ in range(pack.series)
    )
    reading = pack_reading(cell.id, volts, rules)
    charger, _ = made_up_charger(by, level)
    found = storage_program(pack, charger, reading, rules=rules, feed=Feed("mains"), path=None)
    lines = "  ".join(f"{v:.3f}" for v in volts)
    things = (made.label, Thing("readings", "its cells, in volts", (lines,)))
    task = Task(ID, level, seed, "The day is over.", things, (WAY,))
    names = {o.id: o.name for o in WAY.asks.options} if isinstance(WAY.asks, Pick) else {}

    def judge(answers: Answers) -> Judged:
        said, right = one_of(answers, WAY), found.direction
        came = Came("way", *_outcome(said, right, found.sentence), names[right])
        return judged((came,), found.working, rules.cited)

    return Exercise(task, judge)


def _outcome(said: str, right: str, sentence: str) -> tuple[Outcome, str]:
    if said == right:
        return "right", f"Right. {sentence}"
    if said == "discharge" and right == "charge":
        return "dangerous", f"It is low already: emptied further a cell is damaged. {sentence}"
    return "wasteful", sentence
