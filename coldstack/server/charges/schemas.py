"""What is asked of charges. Names and units are the core's."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from coldstack.core.charging.level import BatteryKind
from coldstack.server.bench.schemas import PackId
from coldstack.server.sizing.schemas import In


class TakeOverIn(In):
    """A charge that was not begun here is one of this pack."""

    pack: PackId
    look_every_min: Annotated[float, Field(ge=1, le=20)] = 10


class FaultIn(In):
    """Put a fault into a simulated charger."""

    fault: Annotated[str, Field(max_length=20)]
    cell: Annotated[int, Field(ge=0, le=27)] = 0
    seconds: Annotated[float, Field(ge=0, le=600)] = 20


class LevelIn(In):
    """How full a field battery is: "80 %", "300 Wh", or its volts at rest "12.6 V" with what ``kind`` of
    battery it is; ``key`` is of the act."""

    key: Annotated[str, Field(min_length=8, max_length=60)]
    told: Annotated[str, Field(min_length=1, max_length=20)]
    kind: BatteryKind | None = None
