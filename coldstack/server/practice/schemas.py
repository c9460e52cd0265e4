"""What a task is asked by, and how it is answered."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StrictFloat, StrictInt, StrictStr

from coldstack.core.practice.practice import MOST_SEED
from coldstack.core.practice.task import Level
from coldstack.server.sizing.schemas import In

Said = StrictInt | StrictFloat | StrictStr | list[Annotated[StrictStr, Field(max_length=40)]]


class TaskIn(In):
    """A task by its kind, level and seed; the same three make the same task. ``house_rules`` is the id of the
    set by which it is judged; null for the first."""

    kind: Annotated[str, Field(max_length=40)]
    level: Level
    seed: Annotated[int, Field(ge=0, le=MOST_SEED)]
    house_rules: Annotated[str, Field(max_length=60)] | None = None


class AnswersIn(TaskIn):
    """The same with what was answered, by question: a number, the id of a choice, or several ids in their
    order."""

    answers: Annotated[dict[str, Said], Field(max_length=12)]
