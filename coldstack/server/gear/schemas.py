"""What the API says of gear."""

from __future__ import annotations

from pydantic import BaseModel

from coldstack.server.sizing.schemas import JobIn


class ModelLine(BaseModel):
    """A model in the switcher."""

    slug: str
    name: str
    description: str


class ModelOut(ModelLine):
    """A model with its job."""

    job: JobIn
