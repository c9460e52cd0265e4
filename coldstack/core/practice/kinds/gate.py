"""May it be charged? What is seen, felt and read of a pack before it goes on the charger."""

from __future__ import annotations

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.charging.inspection import Inspection, VisualCheck, inspection
from coldstack.core.charging.inspection import Outcome as Follows
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
    Pick,
    PracticeTask,
    TaskQuestion,
    Thing,
    judged,
    one_of,
)
from coldstack.core.readings.cells import pack_reading
from coldstack.core.units import DEG, MM, plain_number
from coldstack.core.working import Step, Working

ID, NAME = "gate", "May it be charged?"
NAMES: dict[Follows, str] = {
    "pass": "Charge it",
    "wait": "Wait, then look again",
    "mend": "Not before something is mended or cleared up",
    "retire": "Retire it",
}
_OPTIONS = tuple(AnswerOption(k, v) for k, v in NAMES.items())
WHAT = TaskQuestion("what", "What do you do with it?", Pick(_OPTIONS, "one"))
FELT = {
    "swollen": "gives like a cushion when pressed, and its wrapper is tight",
    "dented": "a corner is crushed, a finger wide",
    "punctured": "a hole as of a nail; it smells sweet",
    "leads": f"the red wire is bare for 5{MM} at the plug",
    "warm": "one would take the hand off it, as off a cup of tea",
}
"""Signs in the words of one who feels them."""
SOUND = (
    "flat, firm, dry; its leads are whole",
    "scratched and faded, but flat and firm; its leads are whole",
)
_CASES = ("sound", "sound", "sign", "sign", "cold", "hot", "low", "over", "apart", "just_run")


def make(by: Chance, given: Given) -> Exercise:
    """A pack before the charger: sound, or with one thing that is not."""
    made, rules = (
        a_pack(by, given, suits=lambda p: chemistry(p.chemistry).charge_method == "cc_cv"),
        given.rules,
    )
    case = by.one_of(_CASES)
    sign = by.one_of(tuple(FELT)) if case == "sign" else ""
    volts = _cells(by, made.pack, case)
    ago = by.between(2.0, 0.9 * rules.cool_min) if case == "just_run" and rules.cool_min > 3 else None
    temperature_c = {"cold": round(by.between(-8, -1)), "hot": round(by.between(42, 55))}.get(case)
    at_room = temperature_c is None and ago is None and sign != "warm"
    check = VisualCheck(
        looked=True,
        signs=(sign,) if sign else (),
        temperature_c=temperature_c,
        at_room=at_room,
        reading=pack_reading(made.pack.chemistry, volts, rules),
        run_ago_min=ago,
    )
    found = inspection(made.pack, check, rules=rules)
    lines = [f"to the hand: {FELT.get(sign) or by.one_of(SOUND)}"]
    if temperature_c is not None:
        lines.append(f"a thermometer on it reads {plain_number(temperature_c)}{DEG}")
    elif at_room:
        lines.append("as warm as the room")
    if ago is not None:
        lines.append(f"run {ago:.0f} min ago")
    things = (
        made.label,
        Thing("sheet", "looked at and felt", tuple(lines)),
        Thing("readings", "its cells, in volts", (), volts),
    )
    own = given.is_own(made.pack)
    task = PracticeTask(ID, given.level, given.seed, "It is next on the charger.", things, (WHAT,), own)

    def judge(answers: Answers) -> JudgedAnswer:
        return judged((_came(found, one_of(answers, WHAT)),), _working(found), rules.cited)

    return Exercise(task, judge)


def _cells(by: Chance, pack: Pack, case: str) -> tuple[float, ...]:
    cell = chemistry(pack.chemistry)
    base = resting_voltage(cell.id, by.between(0.15, 0.7))
    volts = [round(base + by.between(-0.003, 0.003), 3) for _ in range(pack.series)]
    which = by.one_of(range(pack.series))
    if case == "low":
        volts[which] = round(cell.damage_v - by.between(0.1, 0.8), 3)
    if case == "over":
        volts[which] = round(cell.full_v + by.between(0.06, 0.15), 3)
    if case == "apart" and pack.series > 1:
        volts[which] = round(base - by.between(0.1, 0.2), 3)
    return tuple(volts)


def _came(found: Inspection, said: str) -> Came:
    right, why = NAMES[found.outcome], " ".join(f.sentence for f in found.findings)
    if said == found.outcome:
        return Came("what", "right", f"Right. {why or 'Nothing speaks against it.'}", right)
    if found.passed:
        return Came("what", "wasteful", why or "Nothing speaks against it: looks alone prove nothing.", right)
    return Came("what", "dangerous" if said == "pass" else "wasteful", why, right)


def _working(found: Inspection) -> Working:
    steps = tuple(Step(NAMES.get(f.outcome, f.outcome), "", f.sentence) for f in found.findings)
    return Working("Before charging", steps or (Step("Charge it", "", "Nothing speaks against it."),))
