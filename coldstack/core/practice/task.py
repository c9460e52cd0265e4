"""A task: what is shown, what is asked, how an answer is given, and what came of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from coldstack.core.chain.plugs import Half
from coldstack.core.charging.charger import Charger
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import Bench
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.trial.job import Job
from coldstack.core.working import Working

Outcome = Literal["right", "wasteful", "dangerous"]
OUTCOMES: tuple[Outcome, ...] = ("right", "wasteful", "dangerous")
"""From what is right to what burns something."""
Level = Literal["first_day", "season", "expert"]
LEVELS: tuple[Level, ...] = ("first_day", "season", "expert")
Answer = float | str | tuple[str, ...]
"""A number, the id of one choice, or the ids of all in their order."""
Answers = Mapping[str, Answer]
MOST_NUMBER = 1e6
"""What nobody can mean; NaN neither."""


@dataclass(frozen=True, slots=True)
class Shelf:
    """One's own gear, to make tasks of: packs, chargers, models, and what lies beside them."""

    packs: tuple[Pack, ...] = ()
    chargers: tuple[Charger, ...] = ()
    jobs: tuple[Job, ...] = ()
    bench: Bench = field(default_factory=Bench)


@dataclass(frozen=True, slots=True)
class Given:
    """By what a task is made: its seed and level, the house rules it goes by, and one's own gear where it is
    to be of that; None for made-up packs."""

    seed: int
    level: Level
    rules: HouseRules
    shelf: Shelf | None = None

    def is_own(self, pack: Pack) -> bool:
        """Whether the task is of a pack of one's own."""
        return self.shelf is not None and pack in self.shelf.packs


@dataclass(frozen=True, slots=True)
class AnswerOption:
    """One of several to choose from, or to put in order."""

    id: str
    name: str


@dataclass(frozen=True, slots=True)
class Number:
    """A number is asked, in a unit."""

    unit: str
    step: float
    shape: Literal["number"] = "number"


@dataclass(frozen=True, slots=True)
class Pick:
    """One option is asked, or all of them in their order."""

    options: tuple[AnswerOption, ...]
    shape: Literal["one", "order"]


@dataclass(frozen=True, slots=True)
class TaskQuestion:
    """One thing asked, in words."""

    id: str
    words: str
    asks: Number | Pick

    @property
    def names(self) -> dict[str, str]:
        """What may be chosen, by its id; nothing where a number is asked."""
        return {} if isinstance(self.asks, Number) else {o.id: o.name for o in self.asks.options}


@dataclass(frozen=True, slots=True)
class Thing:
    """What lies before one: a pack's label, a charger's sheet, what a meter reads of its cells, a page of its
    log, a plug; by its lines. ``plug`` is the family of the plug that is seen, ``half`` which half of it."""

    kind: Literal["label", "sheet", "readings", "page", "plug"]
    name: str
    lines: tuple[str, ...]
    cell_v: tuple[float, ...] = ()
    plug: str = ""
    half: Half = "pack"


@dataclass(frozen=True, slots=True)
class PracticeTask:
    """One task of a kind and a level, made from a seed: the same seed makes the same task, of one's own gear
    while that is as it was."""

    kind: str
    level: Level
    seed: int
    words: str
    things: tuple[Thing, ...]
    questions: tuple[TaskQuestion, ...]
    own: bool = False


@dataclass(frozen=True, slots=True)
class Came:
    """What came of the answer to one question; ``right`` is what would have been right, in words."""

    question: str
    outcome: Outcome
    sentence: str
    right: str


@dataclass(frozen=True, slots=True)
class Happening:
    """Something that happens while it is seen through; ``cell`` is the number of the one that it happens to,
    from 1 on, ``mark`` what stands on it from then on. [s]"""

    time_s: float
    outcome: Outcome
    sentence: str
    cell: int | None = None
    mark: str = ""


@dataclass(frozen=True, slots=True)
class RanLine:
    """One line of what is seen through: a cell's volts, or a pack's amps, by time; and what it should stay
    below."""

    name: str
    values: tuple[float, ...]
    limit: float


@dataclass(frozen=True, slots=True)
class Ran:
    """An answer seen through, as the program simulates it: what flows or reads by time, what happens when,
    and what it costs or which margin it has. [s], [V] or [A] by ``unit``"""

    title: str
    unit: Literal["V", "A"]
    time_s: tuple[float, ...]
    lines: tuple[RanLine, ...]
    moments: tuple[Happening, ...]
    sentence: str

    @property
    def outcome(self) -> Outcome:
        """As bad as the worst moment."""
        return max((m.outcome for m in self.moments), key=OUTCOMES.index, default="right")


@dataclass(frozen=True, slots=True)
class JudgedAnswer:
    """What came of all answers, with the working that the program shows elsewhere and the rule it goes by."""

    outcome: Outcome
    came: tuple[Came, ...]
    working: Working
    rule: str


def never(_: Answers) -> Ran | None:
    """Nothing of it runs."""
    return None


@dataclass(frozen=True, slots=True)
class Exercise:
    """A task with its judge, and how an answer is seen through: None where nothing of it runs."""

    task: PracticeTask
    judge: Callable[[Answers], JudgedAnswer]
    see: Callable[[Answers], Ran | None] = never


def judged(came: tuple[Came, ...], working: Working, rule: str) -> JudgedAnswer:
    """All of it: as bad as the worst."""
    return JudgedAnswer(max((c.outcome for c in came), key=OUTCOMES.index), came, working, rule)


def only_asked(task: PracticeTask, answers: Answers) -> Answers:
    """The answers, if nothing is among them that was not asked; raises DomainError otherwise."""
    asked = {q.id for q in task.questions}
    for question in answers:
        if question not in asked:
            raise DomainError(question[:40], "This was not asked.")
    return answers


def number_of(answers: Answers, question: str) -> float:
    """The number that was answered; raises DomainError, at the question, for anything else."""
    value = answers.get(question)
    if isinstance(value, bool) or not isinstance(value, int | float) or not abs(value) <= MOST_NUMBER:
        raise DomainError(question, "Give a number.")
    return float(value)


def one_of(answers: Answers, question: TaskQuestion) -> str:
    """The option that was chosen; raises DomainError, at the question, for none or one that is not there."""
    value = answers.get(question.id)
    if value not in question.names:
        raise DomainError(question.id, "Choose one of them.")
    return str(value)


def order_of(answers: Answers, question: TaskQuestion) -> tuple[str, ...]:
    """All options in the order that was given.

    Raises
    ------
    DomainError
        At the question: for one that is not there, is said twice or is left out.
    """
    value = answers.get(question.id)
    if not isinstance(value, tuple) or sorted(value) != sorted(question.names):
        raise DomainError(question.id, "Put all of them in order, each once.")
    return value


def first_answers(task: PracticeTask) -> dict[str, Answer]:
    """An answer to everything, whatever it is worth: zero, the first option, the order as it lies."""
    said: dict[str, Answer] = {}
    for q in task.questions:
        if isinstance(q.asks, Number):
            said[q.id] = 0.0
        else:
            ids = tuple(o.id for o in q.asks.options)
            said[q.id] = ids[0] if q.asks.shape == "one" else ids
    return said
