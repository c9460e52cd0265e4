"""What a charger says of a charge, by kind: a report, nothing, not now, or that it knows no such charge."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.watching.reports import Believed, PortState, believed
from coldstack.core.watching.samples import Sample
from coldstack.core.watching.stopping import Answer
from coldstack.server.charges.models import Charge
from coldstack.server.charges.seen import expected_of
from coldstack.server.devices.charger import ChargerDevice, DeviceRefusal, LinkLost, UnknownRun


@dataclass(frozen=True, slots=True)
class Word:
    """What came of one question. ``why`` are the charger's words, for people."""

    kind: Literal["reported", "silent", "busy", "unknown"]
    said: Believed | None = None
    why: str = ""

    @property
    def state(self) -> PortState:
        """Whether it charges, by its own word; so it is taken to where it says nothing. Of a charge that it
        does not know it says that it does not charge."""
        if self.said is not None:
            return self.said.state
        return "stopped" if self.kind == "unknown" else "charging"


def hear(charge: Charge, device: ChargerDevice | None, before: Sample | None) -> Word:
    """What is new of a charge since the sample that was believed last."""
    if device is None:
        return Word("silent", why="it is not linked any more")
    try:
        raw = device.report(charge.port, charge.run, before.seq if before else 0)
    except UnknownRun as unknown:
        return Word("unknown", why=str(unknown))
    except DeviceRefusal as refusal:
        return Word("busy", why=str(refusal))
    except LinkLost as lost:
        return Word("silent", why=str(lost))
    return Word("reported", believed(raw, cells=max(expected_of(charge).series, 1), before=before))


def told_to_stop(charge: Charge, device: ChargerDevice | None, why: str) -> tuple[Answer, str]:
    """What a charger answers to a stop, and its words if it refuses."""
    if device is None:
        return "unheard", ""
    try:
        device.stop(charge.port, why)
    except DeviceRefusal as refusal:
        return "refused", str(refusal)
    except LinkLost:
        return "unheard", ""
    return "accepted", ""
