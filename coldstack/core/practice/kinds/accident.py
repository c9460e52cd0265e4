"""An accident: what first."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.charging.inspection import SIGNS
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.task import (
    AnswerOption,
    Answers,
    Came,
    Exercise,
    Given,
    JudgedAnswer,
    Level,
    Outcome,
    Pick,
    PracticeTask,
    TaskQuestion,
    judged,
    one_of,
)
from coldstack.core.safety.page import BURNING, CHARGING, RETIRING, RUNNING
from coldstack.core.units import DEG
from coldstack.core.watching.alarm import NOT_JUDGED
from coldstack.core.watching.what_to_do import what_to_do
from coldstack.core.working import Step, Working

ID, NAME = "accident", "An accident: what first?"
_CAUTIONS = {c.id: c.sentence for s in (BURNING, CHARGING, RUNNING, RETIRING) for c in s.cautions}
_AT_THE_PACK = " ".join(what_to_do("not_following", over=True))
_OUT = "Everybody out and away from the smoke"


@dataclass(frozen=True, slots=True)
class _Case:
    """What happened; what is right, what harms somebody, what is only of no use; and the program's own words
    for why."""

    words: str
    right: str
    harms: tuple[str, ...]
    useless: tuple[str, ...]
    why: str
    levels: tuple[Level, ...] = ("first_day", "season", "expert")


CASES: tuple[_Case, ...] = (
    _Case(
        "A pack on the charger hisses, then flames stand half a metre high. Two children are in the room.",
        _OUT,
        ("Carry it outside", "Pour a bucket of water over it", "Fetch the other packs from beside it first"),
        ("Call the fire service first",),
        _CAUTIONS["people_first"],
    ),
    _Case(
        "Everybody is out of the workshop. A pack burns in there, its door is shut.",
        "Call the fire service, and say that lithium batteries burn",
        ("Go back in for the models", "Open the door to see how far it is"),
        ("Wait until it is over, then clean up",),
        _CAUTIONS["call"],
    ),
    _Case(
        "A pack burns in its steel box on stone slabs, outside. Nothing else is near.",
        "Let it burn itself out, from afar",
        ("Take the lid off to put it out", "Kick the box into the pond"),
        ("Empty a small extinguisher on it",),
        _CAUTIONS["let_burn"],
    ),
    _Case(
        "The watch stops a charge: one cell does not follow. The pack is quiet.",
        "Keep from leaning over it: is it hot, hissing or swelling?",
        ("Start the charge again at half the amps", "Pull the balance plug and go on without it"),
        ("Note the cell, and look at the pack tomorrow",),
        _AT_THE_PACK,
    ),
    _Case(
        "A charge was stopped by an alarm. The pack is cool and quiet now.",
        "Unplug it, carry it outside on something that does not burn, and watch it for half an hour",
        ("Charge it once more, to see whether it comes again", "Put it back into the box with the others"),
        ("Switch the charger off and leave it where it lies",),
        _AT_THE_PACK,
        ("season", "expert"),
    ),
    _Case(
        "The model came down hard. The pack has a small dent, and works.",
        "Take it out, lay it outside, and watch it for half an hour",
        ("Fly on, since it works", "Charge it at once, to see whether it takes any"),
        ("Leave it strapped in until you are at home",),
        _CAUTIONS["crash"],
    ),
    _Case(
        "A pack from the drawer is as thick as a cushion. It was fine last summer.",
        "Retire it: it is neither charged nor run again",
        ("Prick it, to let the gas out", "Charge it slowly, and see whether it goes down"),
        ("Put it back into the drawer, marked as weak",),
        SIGNS["swollen"].sentence,
    ),
    _Case(
        "A forgotten pack reads 0.4 V in every cell.",
        "Take it out of use, and retire it",
        ("Wake it up on a program for NiMH", "Charge it at a low rate, and hope"),
        ("Store it, and read it again in a month",),
        _CAUTIONS["zero"],
    ),
    _Case(
        "The program says that the watch has not judged a charge for a minute. The charger’s fan is running.",
        "Go to the charger, touch the pack, stop it there",
        ("Wait until the program shows it again",),
        ("Start the program anew first", "Turn the alarm’s sound off"),
        " ".join(what_to_do(NOT_JUDGED, over=False)),
        ("season", "expert"),
    ),
    _Case(
        "A pack smoulders on the lawn, and the dry grass beside it begins to burn.",
        "Put water on the grass, with a way out behind you",
        ("Carry the pack onto the drive", "Put water on the pack until it is out, from close by"),
        ("Wait for the pack to stop",),
        _CAUTIONS["water"],
        ("season", "expert"),
    ),
    _Case(
        f"A pack comes out of the car at 58{DEG} to the thermometer. The next run is in half an hour.",
        "Let it cool to the room’s air before anything else",
        ("Charge it at once, slowly", "Cool it in the snow for a minute, then charge it"),
        ("Store it away warm",),
        SIGNS["warm"].sentence,
    ),
    _Case(
        "It burned out an hour ago. A black lump lies in the sand.",
        "Leave it outside for a day, then hand in the rest by local rules",
        ("Take it into the shed for the night", "Pick the good cells out of it"),
        ("Put it into the bin, now that it is cold",),
        _CAUTIONS["after"],
    ),
    _Case(
        "You want to go and buy bread; a charge has half an hour left.",
        "Stop the charge before you leave",
        ("Go: the charger has a timer", "Lower the amps, and go"),
        ("Ask the dog to look after it",),
        _CAUTIONS["asleep"],
    ),
)


def make(by: Chance, given: Given) -> Exercise:
    """Something went wrong: what is done first."""
    case = by.one_of([c for c in CASES if given.level in c.levels])
    outcomes: dict[str, Outcome] = {
        case.right: "right",
        **dict.fromkeys(case.harms, "dangerous"),
        **dict.fromkeys(case.useless, "wasteful"),
    }
    options = [AnswerOption(f"{k}", words) for k, words in enumerate(outcomes)]
    first = TaskQuestion("first", "What first?", Pick(tuple(by.mixed(options)), "one"))
    task = PracticeTask(ID, given.level, given.seed, case.words, (), (first,))

    def judge(answers: Answers) -> JudgedAnswer:
        said = list(outcomes)[int(one_of(answers, first))]
        outcome = outcomes[said]
        words = f"Right. {case.why}" if outcome == "right" else case.why
        steps = (Step("First", "", case.right, case.why),)
        return judged((Came("first", outcome, words, case.right),), Working("What first", steps), "")

    return Exercise(task, judge)
