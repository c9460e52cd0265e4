"""Tasks and what came of them, as the API says it."""

from __future__ import annotations

from pydantic import BaseModel

from coldstack.core.practice.task import Judged, Task
from coldstack.server.api.shapes import shows


class KindOut(BaseModel):
    """A kind of task, and the stage that does the same for real."""

    id: str
    name: str
    leads_to: str


@shows(Task)
class TaskOut(BaseModel):
    """A task: what lies before one, and what is asked."""


@shows(Judged)
class JudgedOut(BaseModel):
    """What came of the answers, as bad as the worst of them."""
