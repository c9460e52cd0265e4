"""The safety page."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel

from coldstack.core.safety.cautions import ADVICE
from coldstack.core.safety.page import SAFETY, SafetySection

router = Router(tags=["safety"])


class SafetyOut(BaseModel):
    """The safety page; ``advice`` says who comes first."""

    sections: list[SafetySection]
    advice: str


@router.get("/safety", response=SafetyOut, summary="Cautions, by when they apply")
def safety(request: HttpRequest) -> SafetyOut:
    """All of them in one place; each also stands where it applies."""
    return SafetyOut(sections=list(SAFETY), advice=ADVICE.sentence)
