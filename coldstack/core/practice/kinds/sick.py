"""Find the sick pack from the pages of three."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.chain.balance import needs_balancing
from coldstack.core.keeping.health import Health, health
from coldstack.core.keeping.records import Record
from coldstack.core.packs.health import Level as Grade
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.gear import a_pack
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
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.working import Step, Working

ID, NAME = "sick", "Find the sick pack"
TAGS, NONE = ("A", "B", "C"), "none"
WHICH = TaskQuestion(
    "which",
    "Which of them is sick?",
    Pick((*(AnswerOption(t, t) for t in TAGS), AnswerOption(NONE, "None of them")), "one"),
)
NAMES: dict[Grade, str] = {
    "fine": "Use it as before",
    "watch": "Watch it: read its cells each time",
    "light": "Light duty only",
    "retire": "Retire it",
}
_OPTIONS = tuple(AnswerOption(k, v) for k, v in NAMES.items())
DO = TaskQuestion("do", "And what do you do with it?", Pick(_OPTIONS, "one"))
LOOKS = ("like new", "faded", "oily, creased")
"""What it looks like tells nothing."""
_CASES = ("none", "cell", "cell", "growth", "growth", "capacity", "apart")
_CHARGES, _TRIES, GROWS, READ_AT = 10, 60, 1.2, 0.6


@dataclass(frozen=True, slots=True)
class _Life:
    """A pack with its records, and what they say."""

    pack: Pack
    records: tuple[Record, ...]
    found: Health


def make(by: Chance, given: Given) -> Exercise:
    """Three pages; one pack of them is sick, or none."""
    case = by.one_of(_CASES)
    which = NONE if case == "none" else by.one_of(TAGS)
    lives = {t: _life(by, given, t, case if t == which else "none") for t in TAGS}
    things = tuple(_page(by, t, life) for t, life in lives.items())
    asked = (WHICH,) if given.level == "first_day" else (WHICH, DO)
    words = "Three packs of one shelf, each with its latest charges."
    task = PracticeTask(ID, given.level, given.seed, words, things, asked)

    def judge(answers: Answers) -> JudgedAnswer:
        came = [_which(lives, which, one_of(answers, WHICH))]
        if DO in asked:
            came.append(_do(lives, which, one_of(answers, DO)))
        return judged(tuple(came), _working(lives), given.rules.cited)

    return Exercise(task, judge)


def _life(by: Chance, given: Given, tag: str, case: str) -> _Life:
    """A pack whose records say what they should: drawn again until they do, since readings scatter."""
    easy = Given(given.seed, "season" if given.level == "expert" else "first_day", given.rules)
    pack = a_pack(by, easy, tag, lambda p: needs_balancing(p.chemistry, p.series)).pack
    for _ in range(_TRIES):
        records = _records(by, pack, case, given.rules)
        found = health(pack, records, rules=given.rules)
        wanted = found.level == "fine" if case == "none" else found.level in ("watch", "light", "retire")
        if wanted:
            return _Life(pack, records, found)
    raise AssertionError(f"no records of a pack are {case}")


def _records(by: Chance, pack: Pack, case: str, rules: HouseRules) -> tuple[Record, ...]:
    """One record a charge: what a charger notes of it, and how far its cells were apart at rest."""
    base, odd = by.between(8.0, 12.0) / pack.capacity_ah, by.one_of(range(pack.series))
    worse, lost, far_v = by.between(1.3, 2.6), by.between(0.12, 0.35), by.between(0.03, 0.09)
    own = [1 + by.between(-0.04, 0.04) for _ in range(pack.series)]
    rests_v, out = resting_voltage(pack.chemistry, READ_AT), []
    for k in range(_CHARGES):
        # it gets worse after the first few, and stays so: readings of the latest few are held against them
        late = min(max((k - 3) / 3, 0.0), 1.0)
        mohm = [base * x * (1 + by.between(-0.015, 0.015)) for x in own]
        if case == "cell":
            mohm[odd] *= 1 + (worse - 1) * late
        if case == "growth":
            mohm = [m * (1 + GROWS * (worse - 1) * late) for m in mohm]
        share = 0.99 - (lost * late if case == "capacity" else 0.0) + by.between(-0.005, 0.005)
        rest = [rests_v + by.between(-0.002, 0.002) for _ in range(pack.series)]
        if case == "apart":
            rest[odd] -= far_v * late
        out.append(
            Record(
                day=6.0 * k,
                cycle=10 + 5 * k,
                temperature_c=22.0,
                soc=READ_AT,
                cell_mohm=tuple(round(m, 1) for m in mohm),
                rest_cell_v=tuple(round(v, 3) for v in rest),
                capacity_ah=round(share * pack.capacity_ah, 2),
            )
        )
    return tuple(out)


def _page(by: Chance, tag: str, life: _Life) -> Thing:
    """What its page shows: its figures as noted, at first and lately."""
    p, rows = life.pack, life.records
    lines = [f"{p.series}S {1000 * p.capacity_ah:.0f} mAh, {p.label_c:g}C; looks {by.one_of(LOOKS)}"]
    for r in (rows[0], *rows[-3:]):
        mohm = " ".join(f"{x:.1f}" for x in r.cell_mohm or ())
        volts = r.rest_cell_v or (0.0,)
        apart = round(1000 * (max(volts) - min(volts)))
        held = round(1000 * (r.capacity_ah or 0.0))
        lines.append(f"cycle {r.cycle}: {mohm} mΩ; {held} mAh; {apart} mV apart")
    return Thing("page", tag, tuple(lines))


def _which(lives: dict[str, _Life], which: str, said: str) -> Came:
    right = "None of them" if which == NONE else which
    if said == which:
        why = "" if which == NONE else lives[which].found.evidence[0].sentence
        return Came("which", "right", f"Right. {why}".strip(), right)
    if which == NONE:
        return Came("which", "wasteful", f"{said} is fine: {lives[said].found.evidence[0].sentence}", right)
    sick = lives[which].found
    outcome: Outcome = "dangerous" if sick.level == "retire" else "wasteful"
    return Came("which", outcome, f"{which}: {sick.evidence[0].sentence}", right)


def _do(lives: dict[str, _Life], which: str, said: str) -> Came:
    level = "fine" if which == NONE else lives[which].found.level
    right = NAMES[level]
    if said == level:
        return Came("do", "right", "Right.", right)
    outcome: Outcome = "dangerous" if level == "retire" else "wasteful"
    why = (
        "" if which == NONE else " ".join(e.sentence for e in lives[which].found.evidence if e.level == level)
    )
    return Came("do", outcome, why or "Nothing is wrong with any of them.", right)


def _working(lives: dict[str, _Life]) -> Working:
    steps = [
        Step(f"{t}: {NAMES.get(e.level, 'Read it again')}", e.id, e.sentence)
        for t, life in lives.items()
        for e in life.found.evidence
        if e.level != "fine" or t == "A"
    ]
    return Working("From their records", tuple(steps))
