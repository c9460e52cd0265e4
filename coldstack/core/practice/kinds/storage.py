"""To storage: which way, by what its cells read."""

from __future__ import annotations

from dataclasses import replace

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.charging.programs import StorageProgram, storage_program
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.kinds.settings import laid
from coldstack.core.practice.task import (
    AnswerOption,
    Answers,
    Came,
    Exercise,
    Given,
    JudgedAnswer,
    Outcome,
    Pick,
    PracticeTask,
    TaskQuestion,
    Thing,
    judged,
    one_of,
)
from coldstack.core.readings.cells import pack_reading
from coldstack.core.units import minutes_words, plain_number
from coldstack.core.wear.cycles import AGE_DAYS, middle_of
from coldstack.core.wear.lying import LEAST_V, life_lost_lying

ID, NAME = "storage", "To storage"
WEEK_DAYS, ROOM_C, WORTH_A_WORD = 7.0, 25.0, 0.001
"""A week in a warm room; what is less is not worth a word. House figures."""
WAY = TaskQuestion(
    "way",
    "It will not be used this week. What do you do?",
    Pick(
        (
            AnswerOption("charge", "Charge it to storage"),
            AnswerOption("discharge", "Discharge it to storage"),
            AnswerOption("none", "Leave it"),
        ),
        "one",
    ),
)


def make(by: Chance, given: Given) -> Exercise:
    """A lithium pack at rest, anywhere between landed and full; later how long it takes, too."""
    of = laid(by, given, lambda p: chemistry(p.chemistry).storage_v is not None)
    made, on, rules = of.made, of.by, given.rules
    pack, cell = made.pack, chemistry(made.pack.chemistry)
    soc = by.one_of((0.15, 0.25, 0.5, 0.9, 1.0)) if given.level == "first_day" else by.between(0.12, 1.0)
    volts = tuple(
        round(resting_voltage(cell.id, soc) + by.between(-0.003, 0.003), 3) for _ in range(pack.series)
    )
    reading = pack_reading(cell.id, volts, rules)
    found = storage_program(pack, on.charger, reading, rules=rules, feed=of.fit.feed, path=of.fit.path)
    things = [made.label, Thing("readings", "its cells, in volts", (), volts)]
    asked = [WAY]
    long = _how_long(by, found)
    if given.level != "first_day" and long is not None:
        down = () if on.charger.discharge_w is None else (f"discharges with {on.charger.discharge_w:g} W",)
        things.append(replace(on.sheet, lines=(*on.sheet.lines, *down)))
        asked.append(long)
    own = given.is_own(pack)
    task = PracticeTask(ID, given.level, given.seed, "The day is over.", tuple(things), tuple(asked), own)
    names = WAY.names

    def judge(answers: Answers) -> JudgedAnswer:
        said = one_of(answers, WAY)
        week = _a_week_full(pack, reading.mean_v) if found.direction == "discharge" else ""
        came = [Came("way", *_outcome(said, found, week), names[found.direction])]
        if long is not None and long in task.questions:
            came.append(_minutes(long, found, one_of(answers, long)))
        return judged(tuple(came), found.working, rules.cited)

    return Exercise(task, judge)


def _outcome(said: str, found: StorageProgram, week: str) -> tuple[Outcome, str]:
    right, sentence = found.direction, found.sentence
    if said == right:
        return "right", f"Right. {sentence}"
    if said == "discharge" and right == "charge":
        return "dangerous", f"It is low already: emptied further a cell is damaged. {sentence}"
    return "wasteful", f"{week} {sentence}".strip()


def _a_week_full(pack: Pack, cell_v: float) -> str:
    """What a week as it is costs more than a week at storage, in a warm room."""
    band = chemistry(pack.chemistry).storage_v
    cell = chemistry(pack.chemistry)
    if band is None or not cell.volts_tell or cell_v < LEAST_V:
        return ""
    share = life_lost_lying(WEEK_DAYS, cell_v, middle_of(band), ROOM_C, age_days=AGE_DAYS)
    words = f"Each week at {cell_v:.2f} V a cell costs about {100 * share:.1f} % of its life"
    return f"{words}, more than at storage." if share >= WORTH_A_WORD else ""


def _how_long(by: Chance, found: StorageProgram) -> TaskQuestion | None:
    """The hours, among others that nobody could take for them; None where it takes none, or cannot be."""
    if not found.hours:
        return None
    options = [AnswerOption(f"{f:g}", _about(f * found.hours)) for f in (0.25, 1.0, 4.0)]
    return TaskQuestion(
        "long", "How long does it take on this charger?", Pick(tuple(by.mixed(options)), "one")
    )


def _minutes(long: TaskQuestion, found: StorageProgram, said: str) -> Came:
    right = _about(found.hours or 0.0)
    if said == "1":
        return Came("long", "right", "Right.", right)
    how = f"{plain_number(found.mah, 2)} mAh at {plain_number(found.current_a)} A take {right}."
    return Came("long", "wasteful", how, right)


def _about(hours: float) -> str:
    return f"about {minutes_words(max(1.0, 60 * hours))}"
