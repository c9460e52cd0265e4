"""Go or no go from what its cells read, and which timer to set."""

from __future__ import annotations

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.models import to_run
from coldstack.core.practice.task import (
    AnswerOption,
    Answers,
    Came,
    Exercise,
    Given,
    JudgedAnswer,
    Pick,
    PracticeTask,
    TaskQuestion,
    Thing,
    judged,
    one_of,
)
from coldstack.core.readings.cells import pack_reading
from coldstack.core.running.go import Go, go_check
from coldstack.core.running.limits import GoVerdict
from coldstack.core.units import DEG, clock, plain_number
from coldstack.core.working import Step, Working

ID, NAME = "go", "Go or no go"
NAMES: dict[GoVerdict, str] = {"go": "Go", "careful": "Go, with care", "no_go": "No go"}
_OPTIONS = tuple(AnswerOption(k, v) for k, v in NAMES.items())
VERDICT = TaskQuestion("verdict", "Go?", Pick(_OPTIONS, "one"))
NOT_RUN = "none"
_TIMERS = (0.5, 1.0, 1.6)
_CASES = ("full", "full", "part", "spent", "apart", "apart", "cold", "hot", "low", "over")


def make(by: Chance, given: Given) -> Exercise:
    """A model, its pack as it reads now; whether to run, and for how long."""
    of, case = to_run(by, given), by.one_of(_CASES)
    pack, rules = of.pack, of.job.rules
    volts = _cells(by, pack, case)
    degrees = {"cold": round(by.between(-6, 9)), "hot": round(by.between(42, 62))}.get(case, 20)
    reading = pack_reading(pack.chemistry, volts, rules)
    found = go_check(of.job, pack, reading, pieces=of.pieces, temperature_c=float(degrees))
    warm = f"as warm as {plain_number(degrees)}{DEG}"
    meter = Thing("readings", f"{pack.called}: its cells, in volts", (warm,), volts)
    asked = [VERDICT] if given.level == "first_day" else [VERDICT, _timer(by, found)]
    words = f"The next one to start, by the house rules “{rules.name}”."
    task = PracticeTask(ID, given.level, given.seed, words, (of.sheet, meter), tuple(asked), of.own)

    def judge(answers: Answers) -> JudgedAnswer:
        came = [_came(found, one_of(answers, VERDICT))]
        if len(asked) > 1:
            came.append(_timed(found, asked[1], one_of(answers, asked[1])))
        return judged(tuple(came), _working(found), rules.cited)

    return Exercise(task, judge)


def _cells(by: Chance, pack: Pack, case: str) -> tuple[float, ...]:
    cell = chemistry(pack.chemistry)
    soc = {"full": by.between(0.96, 1.0), "part": by.between(0.55, 0.8), "spent": by.between(0.1, 0.2)}
    base = resting_voltage(cell.id, soc.get(case, by.between(0.92, 1.0)))
    volts = [round(base + by.between(-0.002, 0.002), 3) for _ in range(pack.series)]
    which = by.one_of(range(pack.series))
    if case == "apart":
        volts[which] = round(volts[which] - by.one_of((0.02, 0.045, 0.12)), 3)
    if case == "low":
        volts[which] = round(cell.damage_v - by.between(0.2, 0.8), 3)
    if case == "over":
        volts[which] = round(cell.full_v + by.between(0.06, 0.13), 3)
    return tuple(volts)


def _came(found: Go, said: str) -> Came:
    right, why = NAMES[found.verdict], " ".join(r.sentence for r in found.reasons)
    if said == found.verdict:
        return Came("verdict", "right", f"Right. {why or 'Nothing speaks against it.'}", right)
    if found.verdict == "no_go":
        return Came("verdict", "dangerous", why, right)
    return Came("verdict", "wasteful", why or "Nothing speaks against it.", right)


def _timer(by: Chance, found: Go) -> TaskQuestion:
    """The timer among others that nobody could take for it."""
    times = [
        AnswerOption(f"{f:g}", clock(int(f * found.timer_s) // 10 * 10))
        for f in _TIMERS
        if found.timer_s >= 60
    ]
    return TaskQuestion(
        "timer", "Which timer?", Pick((*by.mixed(times), AnswerOption(NOT_RUN, "It is not run")), "one")
    )


def _timed(found: Go, asked: TaskQuestion, said: str) -> Came:
    names = asked.names
    wanted = NOT_RUN if found.verdict == "no_go" or "1" not in names else "1"
    if said == wanted:
        return Came("timer", "right", "Right.", names[wanted])
    if wanted == NOT_RUN:
        return Came("timer", "dangerous", "It is not run at all as it reads.", names[wanted])
    if said == NOT_RUN:
        return Came("timer", "wasteful", "It may be run.", names[wanted])
    if float(said) > 1:
        landed = clock(60 * found.minutes_low)
        words = f"Its emptiest cell may be at its landing point after {landed}: driven on it wears, and dies."
        return Came("timer", "dangerous", words, names[wanted])
    return Came("timer", "wasteful", f"It could run for {names[wanted]}.", names[wanted])


def _working(found: Go) -> Working:
    reasons = tuple(Step(NAMES[r.verdict], "", r.sentence) for r in found.reasons)
    return Working("Go or no go", (*reasons, *found.working.steps), found.working.note)
