"""The order of plugging in: by the steps of the bench, and by what the circuit does in another order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.balance import needs_balancing
from coldstack.core.chain.plugs import plug_family
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.steps import BenchStep, charge_steps
from coldstack.core.drawings.circuit import FaultKind
from coldstack.core.drawings.forbidden import DOES
from coldstack.core.drawings.on_charger import ChargeLaid
from coldstack.core.drawings.strip import strip_of
from coldstack.core.matching.charge import ChargeFit, charge_fit
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.gear import a_charger, a_pack
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
    judged,
    order_of,
)
from coldstack.core.working import Step, Working

ID, NAME = "order", "Plug in, in order"
ON_BENCH = ("lead", "main", "balance")
SHORT = {
    "place": "Lay the pack where nothing burns",
    "set": "Set the charger",
    "lead": "The charge lead into the charger",
    "main": "The pack’s main plug into the lead",
    "balance": "The balance plug into the charger",
    "confirm": "See that it found the cells, and start",
}
"""Steps in words that give no order away."""


def make(by: Chance, given: Given) -> Exercise:
    """A pack with a balance plug, a lead, a charger: what goes first."""
    easy = replace(given, level="first_day" if given.level == "first_day" else "season", shelf=None)
    made = a_pack(by, easy, suits=lambda p: needs_balancing(p.chemistry, p.series))
    on = a_charger(by, easy, output=by.one_of(("banana_4", "xt90")))
    pack, charger, rules = replace(made.pack, plug="xt60"), on.charger, given.rules
    fit = charge_fit(pack, charger, rules=rules, feed=Feed("mains"), bench=on.bench)
    steps = charge_steps(
        chemistry_id=pack.chemistry,
        series=pack.series,
        program="balance charge",
        current_a=fit.amps.current_a if fit.amps else 0.0,
        end_v=None,
        bare_ends=not plug_family(charger.output_plug).keyed,
    )
    wanted = [s for s in steps if s.id in ON_BENCH or given.level != "first_day"]
    mixed = by.mixed(wanted)
    question = TaskQuestion(
        "order", "In which order?", Pick(tuple(AnswerOption(s.id, SHORT[s.id]) for s in mixed), "order")
    )
    output = f"output: {plug_family(charger.output_plug).name}"
    sheet = replace(on.sheet, lines=(*on.sheet.lines, output))
    label = replace(
        made.label,
        lines=(f"{pack.series}S {chemistry(pack.chemistry).name}", f"{plug_family(pack.plug).name}, XH"),
    )
    words = "Pack, lead and charger lie before you."
    task = PracticeTask(ID, given.level, given.seed, words, (label, sheet), (question,))

    def judge(answers: Answers) -> JudgedAnswer:
        said = order_of(answers, question)
        by_id = {s.id: s for s in wanted}
        return judged((_came([by_id[x] for x in said], wanted, fit),), _working(wanted), rules.cited)

    return Exercise(task, judge)


def _came(said: Sequence[BenchStep], wanted: Sequence[BenchStep], fit: ChargeFit) -> Came:
    right = "; ".join(SHORT[s.id] for s in wanted)
    if list(said) == list(wanted):
        return Came("order", "right", "Right.", right)
    fault = _fault(said, fit)
    if fault is not None:
        return Came("order", "dangerous", f"On the way there is {DOES[fault]}.", right)
    return Came("order", *_merely(said, wanted), right)


def _merely(said: Sequence[BenchStep], wanted: Sequence[BenchStep]) -> tuple[Outcome, str]:
    """Nothing burns on the way; but a charge that is started by settings that nobody saw may."""
    ids = [s.id for s in said]
    if "set" in ids and ids.index("set") > ids.index("confirm"):
        return "dangerous", "It is started before anybody set it: by the settings of the pack before."
    first = next(w for s, w in zip(said, wanted, strict=True) if s != w)
    return "wasteful", f"Nothing burns so, and yet: {first.sentence} {first.why}".strip()


def _fault(said: Sequence[BenchStep], fit: ChargeFit) -> FaultKind | None:
    """What is wrong in the circuit at any moment of this order; None for nothing."""
    laid = ChargeLaid(fit, None)
    taken = strip_of(laid.bench.circuit, [laid.act(s) for s in said], begun=laid.fed)
    return next((f.kind for step in taken for f in step.faults), None)


def _working(wanted: Sequence[BenchStep]) -> Working:
    steps = tuple(Step(str(k), s.sentence, s.why) for k, s in enumerate(wanted, 1))
    return Working("The order", steps, "What is live hangs loose for as short as can be, and never bare.")
