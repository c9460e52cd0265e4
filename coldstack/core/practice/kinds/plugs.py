"""Will it plug: two halves, as the chain judges them."""

from __future__ import annotations

from coldstack.core.chain.plugs import PLUGS, PlugEnd, are_look_alikes, mating, plug_family
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.task import (
    Answers,
    Came,
    Exercise,
    Judged,
    Level,
    Option,
    Outcome,
    Pick,
    Question,
    Task,
    Thing,
    judged,
    one_of,
)
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.working import Step, Working

ID, NAME = "plugs", "Will it plug?"
FITS = Question(
    "fits",
    "Does the pack go into the model?",
    Pick((Option("yes", "It does"), Option("no", "It does not")), "one"),
)
_KNOWN: dict[Level, tuple[str, ...]] = {
    "first_day": ("xt30", "xt60", "xt90", "ec3", "t_plug"),
    "season": ("xt30", "xt60", "xt90", "ec2", "ec3", "ec5", "t_plug", "bullet_4", "bullet_5", "rcy", "sm"),
    "expert": tuple(p.id for p in PLUGS.values() if p.on_packs),
}


def make(by: Chance, seed: int, level: Level, rules: HouseRules) -> Exercise:
    """A pack's plug and a model's: alike, look-alikes, or neither; sometimes the same half on both."""
    mine = by.one_of(_KNOWN[level])
    others = [p for p in _KNOWN[level] if are_look_alikes(p, mine)] or list(_KNOWN[level])
    theirs = mine if by.happens(0.5) else by.one_of(others)
    half = "pack" if level != "first_day" and by.happens(0.2) else "device"
    pack, model = PlugEnd(mine), PlugEnd(theirs, "pack" if half == "pack" else "device")
    words = "covered contacts" if half == "pack" else "the other half"
    things = (
        Thing("sheet", "the pack", (plug_family(mine).name, "covered contacts")),
        Thing("sheet", "the model", (plug_family(theirs).name, words)),
    )
    task = Task(ID, level, seed, "A pack was given to you, and here is the model.", things, (FITS,))
    found = mating(pack, model)

    def judge(answers: Answers) -> Judged:
        said = one_of(answers, FITS) == "yes"
        right = "It does" if found.fits else "It does not"
        if said == found.fits:
            came = Came("fits", "right", f"Right. {found.sentence}", right)
        elif said:
            words = "Forced together it makes poor contact, warms and burns." if found.look_alike else ""
            outcome: Outcome = "dangerous" if found.look_alike else "wasteful"
            came = Came("fits", outcome, f"{found.sentence} {words}".strip(), right)
        else:
            came = Came("fits", "wasteful", found.sentence, right)
        steps = (Step("Family, size, halves", "", found.sentence, found.polarity),)
        return judged((came,), Working("Will it plug", steps), "")

    return Exercise(task, judge)
