"""Who may share a board: two packs with their readings, judged as the bench does."""

from __future__ import annotations

from dataclasses import replace

from coldstack.core.boards.batches import Batch, at_most, batch_of
from coldstack.core.boards.laid import BenchPack, Board, laid_packs
from coldstack.core.boards.rush import first_minutes
from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.amps import floor_to_step, most_to_set
from coldstack.core.charging.inspection import VisualCheck, inspection
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.gear import a_pack
from coldstack.core.practice.task import (
    AnswerOption,
    Answers,
    Came,
    Exercise,
    Given,
    Happening,
    JudgedAnswer,
    Pick,
    PracticeTask,
    Ran,
    RanLine,
    TaskQuestion,
    Thing,
    judged,
    one_of,
)
from coldstack.core.readings.cells import PackReading, pack_reading
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import plain_number
from coldstack.core.working import Step, Working

ID, NAME = "sharing", "Who may share the board?"
FUSE_A = 10.0
BOARD = Board(
    Adapter(
        "practice-board",
        "the board",
        (PlugEnd("xt60", "device"), PlugEnd("banana_4")),
        kind="board",
        sockets=4,
        balance_from=("xh",),
        balance_out="xh",
        balance_cells=14,
        continuous_a=FUSE_A,
    )
)
MAY = TaskQuestion(
    "may",
    "May these two share the board?",
    Pick((AnswerOption("yes", "They may"), AnswerOption("no", "They may not")), "one"),
)
NOT_TOGETHER, STEP_A = "none", 0.1
_OFF_V = (0.0, 0.004, 0.015, 0.03, 0.06, 0.12)


def make(by: Chance, given: Given) -> Exercise:
    """Two packs that are alike, or differ in volts, cells or chemistry; later also at how many amps."""
    rules = given.rules
    members = _two(by, given)
    batch = batch_of(members, rules=rules, board=BOARD)
    asked = MAY if given.level != "expert" else _how_many_amps(by, batch, rules)
    things = tuple(
        Thing("readings", tag, (_words(m.pack),), m.reading.cell_v if m.reading else ())
        for tag, m in zip("AB", members, strict=True)
    )
    words = f"One charger is free, and time is short. The board has fuses of {FUSE_A:.0f} A."
    task = PracticeTask(ID, given.level, given.seed, words, things, (asked,))

    def judge(answers: Answers) -> JudgedAnswer:
        said = one_of(answers, asked)
        came = _may(batch, said) if asked is MAY else _amps(batch, asked, said, rules)
        return judged((came,), _working(batch, rules), rules.cited)

    def see(answers: Answers) -> Ran | None:
        joined = one_of(answers, asked) not in ("no", NOT_TOGETHER)
        return _joined(batch, rules) if joined else None

    return Exercise(task, judge, see)


def _two(by: Chance, given: Given) -> list[BenchPack]:
    made_up, rules = replace(given, shelf=None), given.rules
    first = a_pack(
        by, made_up, "A", lambda p: chemistry(p.chemistry).charge_method == "cc_cv" and p.series > 1
    )
    second = a_pack(by, made_up, "B").pack
    if by.happens(0.7):
        second = replace(second, chemistry=first.pack.chemistry, series=first.pack.series)
    if by.happens(0.4):
        second = replace(second, capacity_ah=first.pack.capacity_ah, charge_c=first.pack.charge_c)
    packs = [replace(x, plug="xt60", name=tag) for tag, x in zip("AB", (first.pack, second), strict=True)]
    soc, off_v = by.between(0.3, 0.9), by.one_of(_OFF_V)
    readings = [_read(p, soc, v, by, rules) for p, v in zip(packs, (0.0, off_v), strict=True)]
    looked = [
        inspection(p, VisualCheck(looked=True, at_room=True, reading=r), rules=rules)
        for p, r in zip(packs, readings, strict=True)
    ]
    return laid_packs(packs, readings, looked, trust="cautious", board=BOARD)


def _may(batch: Batch, said: str) -> Came:
    found = batch.sharing
    right = "They may" if found.allowed else "They may not"
    if (said == "yes") == found.allowed:
        return Came("may", "right", f"Right. {_why(batch)}", right)
    return Came("may", "dangerous" if said == "yes" else "wasteful", _why(batch), right)


def _why(batch: Batch) -> str:
    return " ".join(r.sentence for r in batch.sharing.reasons) or "Alike, and close enough in volts."


def _together_a(batch: Batch, rules: HouseRules) -> float:
    """What the board may be charged at, where the charger has amps enough. [A]"""
    return most_to_set(at_most(batch, rules, BOARD)[0], STEP_A)


def _how_many_amps(by: Chance, batch: Batch, rules: HouseRules) -> TaskQuestion:
    """The amps for both, for one alone, and twice too many; where they may not, what would be right if they
    might."""
    allowed = batch.sharing.allowed
    amps = _together_a(batch, rules) if allowed else floor_to_step(batch.rule_a, STEP_A)
    options = [AnswerOption(f"{f:g}", f"{plain_number(max(STEP_A, f * amps))} A") for f in (0.5, 1.0, 2.0)]
    pick = Pick((*by.mixed(options), AnswerOption(NOT_TOGETHER, "Not together")), "one")
    return TaskQuestion("amps", "At how many amps do you charge the two together?", pick)


def _amps(batch: Batch, asked: TaskQuestion, said: str, rules: HouseRules) -> Came:
    names = asked.names
    wanted = "1" if batch.sharing.allowed else NOT_TOGETHER
    if said == wanted:
        return Came("amps", "right", f"Right. {_why(batch)}", names[wanted])
    if not batch.sharing.allowed:
        return Came("amps", "dangerous", _why(batch), names[wanted])
    if said == NOT_TOGETHER:
        return Came("amps", "wasteful", f"They may. {_why(batch)}", names[wanted])
    if said == "0.5":
        return Came("amps", "wasteful", f"It takes twice as long as {names[wanted]}.", names[wanted])
    words = f"{names[said]} drive more into each than it may have: {at_most(batch, rules, BOARD)[1]}."
    return Came("amps", "dangerous", words, names[wanted])


def _working(batch: Batch, rules: HouseRules) -> Working:
    steps = tuple(Step(r.id.replace("_", " "), "", r.sentence) for r in batch.sharing.reasons)
    if not steps:
        amps, words = at_most(batch, rules, BOARD)
        told = f"{plain_number(amps)} A → {plain_number(_together_a(batch, rules))} A"
        steps = (Step("Nothing against it", "", _why(batch)), Step("Together", words, told))
    return Working("Who may share", steps)


def _joined(batch: Batch, rules: HouseRules) -> Ran | None:
    """What flows between them in the first minutes, before anything is charged; None for packs of different
    cells, of which no reckoning of ours tells."""
    members, found = batch.members, batch.sharing
    if not found.currents_a:
        return None
    first = first_minutes(members, 0.0, rules)
    moments = tuple(Happening(0.0, "dangerous", r.sentence) for r in found.reasons)
    calm = "" if found.calm_s is None else f"Calm after {max(1.0, found.calm_s):.0f} s."
    if not moments:
        most = max(abs(x) for x in found.currents_a)
        moments = (Happening(0.0, "right", f"{most:.1f} A flow from one into the other at first. {calm}"),)
    lines = tuple(
        RanLine(m.tag, tuple(round(float(x), 3) for x in amps), own_a)
        for m, amps, own_a in zip(members, first.current_a, first.own_a, strict=True)
    )
    words = (
        calm if found.allowed else "Joined so, they charge each other as fast as their resistances let them."
    )
    return Ran("Joined on the board", "A", first.time_s, lines, moments, words)


def _words(pack: Pack) -> str:
    name, mah = chemistry(pack.chemistry).name, 1000 * pack.capacity_ah
    charge = "" if pack.charge_c is None else f", charge {pack.charge_c:g}C"
    return f"{pack.series}S {name}, {mah:.0f} mAh, {pack.label_c:g}C{charge}"


def _read(pack: Pack, soc: float, off_v: float, by: Chance, rules: HouseRules) -> PackReading:
    full = chemistry(pack.chemistry).full_v
    base = resting_voltage(pack.chemistry, soc) + off_v
    cells = tuple(round(min(base + by.between(-0.002, 0.002), full), 3) for _ in range(pack.series))
    return pack_reading(pack.chemistry, cells, rules)
