"""Will it plug: two halves, as the chain judges them."""

from __future__ import annotations

from coldstack.core.chain.plugs import (
    PLUGS,
    Half,
    Mating,
    PlugEnd,
    are_look_alikes,
    mating,
    plug_family,
)
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.task import (
    AnswerOption,
    Answers,
    Came,
    Exercise,
    Given,
    JudgedAnswer,
    Level,
    Pick,
    PracticeTask,
    TaskQuestion,
    Thing,
    judged,
    one_of,
)
from coldstack.core.safety.cautions import ONE_WIRE
from coldstack.core.working import Step, Working

ID, NAME = "plugs", "Will it plug?"
FITS = TaskQuestion(
    "fits",
    "Does the pack go into the model?",
    Pick((AnswerOption("yes", "It does"), AnswerOption("no", "It does not")), "one"),
)
DO = TaskQuestion(
    "do",
    "What do you do?",
    Pick(
        (
            AnswerOption("plug", "Plug it in"),
            AnswerOption("adapter", "Use an adapter, or have the right plug put on"),
            AnswerOption("force", "Press until it goes in"),
            AnswerOption("cut", "Cut off both plugs and twist the wires together"),
        ),
        "one",
    ),
)
_KNOWN: dict[Level, tuple[str, ...]] = {
    "first_day": ("xt30", "xt60", "xt90", "ec3", "t_plug"),
    "season": ("xt30", "xt60", "xt90", "ec2", "ec3", "ec5", "t_plug", "bullet_4", "bullet_5", "rcy", "sm"),
    "expert": tuple(p.id for p in PLUGS.values() if p.on_packs),
}


def make(by: Chance, given: Given) -> Exercise:
    """A pack's plug and a model's: alike, look-alikes, or neither; sometimes the same half on both."""
    known = _KNOWN[given.level]
    mine = by.one_of(known)
    others = [p for p in known if are_look_alikes(p, mine)] or list(known)
    theirs = mine if by.happens(0.5) else by.one_of(others)
    half: Half = "pack" if given.level != "first_day" and by.happens(0.2) else "device"
    things = (_thing("the pack", mine, "pack"), _thing("the model", theirs, half))
    asked = (FITS,) if given.level == "first_day" else (FITS, DO)
    words = "A pack was given to you, and here is the model."
    task = PracticeTask(ID, given.level, given.seed, words, things, asked)
    found = mating(PlugEnd(mine), PlugEnd(theirs, half))

    def judge(answers: Answers) -> JudgedAnswer:
        came = [_fits(found, one_of(answers, FITS))]
        if DO in task.questions:
            came.append(_done(found, one_of(answers, DO)))
        steps = (Step("Family, size, halves", "", found.sentence, found.polarity),)
        return judged(tuple(came), Working("Will it plug", steps), "")

    return Exercise(task, judge)


def _thing(name: str, family: str, half: Half) -> Thing:
    words = "covered contacts" if half == "pack" else "the other half"
    return Thing("plug", name, (plug_family(family).name, words), plug=family, half=half)


def _fits(found: Mating, said: str) -> Came:
    right = "It does" if found.fits else "It does not"
    if (said == "yes") == found.fits:
        return Came("fits", "right", f"Right. {found.sentence}", right)
    if found.look_alike and not found.fits:
        words = f"{found.sentence} It warms there, and burns."
        return Came("fits", "dangerous", words, right)
    return Came("fits", "wasteful", found.sentence, right)


def _done(found: Mating, said: str) -> Came:
    """Cutting both wires of a live pack shorts it; force on plugs that do not mate ends in heat or fire."""
    wanted = "plug" if found.fits else "adapter"
    right = DO.names[wanted]
    if said == wanted:
        return Came("do", "right", "Right.", right)
    if said == "cut":
        words = f"Both wires in one snip short the pack through the cutters. {ONE_WIRE.sentence}"
        return Came("do", "dangerous", words, right)
    if said == "force" and not found.fits:
        return Came("do", "dangerous", f"{found.sentence} Forced it warms, melts and shorts.", right)
    if said == "adapter":
        return Came("do", "wasteful", "It mates as it is: an adapter only adds resistance.", right)
    return Came("do", "wasteful", found.sentence, right)
