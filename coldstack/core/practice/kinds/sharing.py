"""Who may share a board: two packs with their readings, judged as the bench does."""

from __future__ import annotations

from dataclasses import replace

from coldstack.core.boards.laid import Board, laid_packs
from coldstack.core.boards.parallel import sharing
from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.inspection import VisualCheck, inspection
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.gear import made_up_pack
from coldstack.core.practice.task import (
    Answers,
    Came,
    Exercise,
    Judged,
    Level,
    Option,
    Pick,
    Question,
    Task,
    Thing,
    judged,
    one_of,
)
from coldstack.core.readings.cells import PackReading, pack_reading
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.working import Step, Working

ID, NAME = "sharing", "Who may share the board?"
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
    )
)
MAY = Question(
    "may",
    "May these two share the board?",
    Pick((Option("yes", "They may"), Option("no", "They may not")), "one"),
)


def make(by: Chance, seed: int, level: Level, rules: HouseRules) -> Exercise:
    """Two packs that are alike, or differ in volts, cells or chemistry."""
    first = made_up_pack(by, level, "A")
    while chemistry(first.pack.chemistry).charge_method != "cc_cv" or first.pack.series < 2:
        first = made_up_pack(by, level, "A")
    second = made_up_pack(by, level, "B")
    if by.happens(0.7):
        same = replace(second.pack, chemistry=first.pack.chemistry, series=first.pack.series)
        second = replace(second, pack=same)
    packs = [replace(x.pack, plug="xt60") for x in (first, second)]
    soc = by.between(0.3, 0.9)
    off_v = by.one_of((0.0, 0.004, 0.015, 0.03, 0.06, 0.12))
    readings = [_read(p, soc, v, by, rules) for p, v in zip(packs, (0.0, off_v), strict=True)]
    looked = [
        inspection(p, VisualCheck(looked=True, at_room=True, reading=r), rules=rules)
        for p, r in zip(packs, readings, strict=True)
    ]
    found = sharing(
        laid_packs(packs, readings, looked, trust="cautious", board=BOARD), rules=rules, board=BOARD
    )
    things = tuple(
        Thing("readings", tag, (_words(p), "  ".join(f"{v:.3f}" for v in r.cell_v)))
        for tag, p, r in zip("AB", packs, readings, strict=True)
    )
    task = Task(ID, level, seed, "One charger is free, and time is short.", things, (MAY,))

    def judge(answers: Answers) -> Judged:
        said, right = one_of(answers, MAY) == "yes", "They may" if found.allowed else "They may not"
        why = " ".join(r.sentence for r in found.reasons) or "Alike, and close enough in volts."
        if said == found.allowed:
            came = Came("may", "right", f"Right. {why}", right)
        else:
            came = Came("may", "dangerous" if said else "wasteful", why, right)
        steps = tuple(Step(r.id, "", r.sentence) for r in found.reasons) or (
            Step("Nothing against it", "", why),
        )
        return judged((came,), Working("Who may share", steps), rules.cited)

    return Exercise(task, judge)


def _words(pack: Pack) -> str:
    name, mah = chemistry(pack.chemistry).name, 1000 * pack.capacity_ah
    return f"{pack.series}S {name}, {mah:.0f} mAh, {pack.label_c:g}C"


def _read(pack: Pack, soc: float, off_v: float, by: Chance, rules: HouseRules) -> PackReading:
    full = chemistry(pack.chemistry).full_v
    base = resting_voltage(pack.chemistry, soc) + off_v
    cells = tuple(round(min(base + by.between(-0.002, 0.002), full), 3) for _ in range(pack.series))
    return pack_reading(pack.chemistry, cells, rules)
