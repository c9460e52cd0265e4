"""Many tasks of a kind, over all levels and house rules; and what one reads on a label and a sheet."""

from __future__ import annotations

from fractions import Fraction
from itertools import product

from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.practice.practice import exercise
from coldstack.core.practice.task import LEVELS, Given, Number, first_answers
from coldstack.core.rules.house_rules import HOUSE_RULES
from tests.thorough import THOROUGH

BY_NAME = {c.name: c for c in CHEMISTRIES.values()}
SCHOOLS = list(HOUSE_RULES.values())


def many(kind, count, start=0):
    """So many exercises with ``make thorough``, a twentieth else, each with its rules."""
    for seed in range(start, start + (count if THOROUGH else max(count // 20, 12))):
        rules = SCHOOLS[seed // 3 % len(SCHOOLS)]
        yield exercise(kind, Given(seed, LEVELS[seed % 3], rules)), rules


def read(label):
    """Chemistry, mAh, cells and charge C of a printed label, by its words alone."""
    name = label.lines[0].split(" ", 1)[1]
    cell = BY_NAME[name]
    volts = float(label.lines[2].split()[-2])
    c = next((Fraction(x.split()[1].rstrip("C")) for x in label.lines if x.startswith("charge")), None)
    return cell, int(label.lines[1].split()[0]), round(volts / cell.nominal_v), c


def limits(label, rules):
    """Amps by the label (what is usual where it says nothing) and by the house rules, in fractions."""
    cell, mah, _, printed_c = read(label)
    ah = Fraction(mah, 1000)
    label_c = Fraction(str(cell.usual_charge_c)) if printed_c is None else printed_c
    return label_c * ah, Fraction(str(rules.charge_c_limit)) * ah


def choices(task):
    """Every answer there is to a task whose questions are all of choosing one."""
    ids = [[o.id for o in q.asks.options] for q in task.questions]
    for said in product(*ids):
        yield dict(zip((q.id for q in task.questions), said, strict=True))


def rights(e):
    """What would have been right of each question, in words."""
    return {c.question: c.right for c in e.judge(first_answers(e.task)).came}


def chosen(task, question, name):
    """The id of the choice that is called so."""
    q = next(x for x in task.questions if x.id == question)
    assert not isinstance(q.asks, Number)
    return next(o.id for o in q.asks.options if o.name == name)
