"""Moments as requests give them: between years that somebody may mean."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import AfterValidator, AwareDatetime

FIRST_YEAR, LAST_YEAR = 1990, 2200


def _meant(moment: datetime) -> datetime:
    if not FIRST_YEAR <= moment.year <= LAST_YEAR:
        raise ValueError(f"Choose a date between {FIRST_YEAR} and {LAST_YEAR}.")
    return moment


Moment = Annotated[AwareDatetime, AfterValidator(_meant)]
"""With its zone."""
LocalMoment = Annotated[datetime, AfterValidator(_meant)]
"""As the hands of the clock show it."""
