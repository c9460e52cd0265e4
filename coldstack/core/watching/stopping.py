"""What came of a stop: an answer is one thing, no current another.

A stop is confirmed by what the charger measures after it, and by nothing that it says. Everything else
leaves the charge *not known to have stopped*.
"""

from __future__ import annotations

from typing import Literal

from coldstack.core.watching.alarm import PULL_PLUG, Alarm
from coldstack.core.watching.expected import Expected
from coldstack.core.watching.reports import PortState
from coldstack.core.watching.samples import Sample

Answer = Literal["accepted", "refused", "unheard"]
"""What the charger said to it: yes; no, in its own words; nothing."""
Outcome = Literal["asked", "confirmed", "refused", "unheard", "gone_on", "unproved"]
"""What is known of it: asked just now; no current any more; refused; not heard; said yes, and goes on by its
own word; said yes, and no reading tells."""

CONFIRM_WITHIN_S = 10.0
"""No current within so much of the charger's time after a stop, or it is not known to have stopped. House
figure."""
NO_CURRENT_A, NO_CURRENT_SHARE = 0.05, 0.02
"""An ammeter may show so much where nothing flows; as a share of what was set, too. House figures."""
DONE_C = 0.1
"""A charge that is full ends at less than this, by the last reading before its charger switches off."""


def no_current(e: Expected, sample: Sample | None, state: PortState) -> bool:
    """Whether this reading shows that nothing flows, or no more than at the end of a full charge."""
    if sample is None:
        return False
    most_a = max(NO_CURRENT_A, NO_CURRENT_SHARE * e.current_a)
    if state == "done":
        most_a = max(most_a, DONE_C * e.capacity_ah)
    return abs(sample.current_a) <= most_a


def ended(e: Expected, state: PortState, last: Sample | None) -> bool:
    """Whether a charge is over: the charger says so, and its last reading shows no current."""
    return state != "charging" and no_current(e, last, state)


def outcome(answer: Answer, *, state: PortState, over: bool, asked_s: float) -> Outcome:
    """What is known of a stop ``asked_s`` of the charger's seconds after it was first asked for, by the
    latest answer, the state that the charger tells, and whether the charge is over."""
    if over:
        return "confirmed"
    if answer != "accepted":
        return answer
    if asked_s < CONFIRM_WITHIN_S:
        return "asked"
    return "gone_on" if state == "charging" else "unproved"


STOP_WORDS: dict[Outcome, str] = {
    "asked": "Told to stop: waiting until the charger shows that nothing flows.",
    "confirmed": "Nothing flows any more.",
    **dict.fromkeys(
        ("refused", "unheard", "gone_on", "unproved"),
        "Not known to have stopped. Pull the charger’s plug, then say so here: until then it is told again.",
    ),
}
"""How far a stop has come, for whoever wants it stopped."""


def not_known_to_have_stopped(found: Outcome, *, charger: str, refusal: str, now_s: float) -> Alarm | None:
    """The alarm that stands until readings or a person confirm it; None where it is over, or was asked only
    just now."""
    words = {
        "refused": f"{charger} refuses" + (f" (“{refusal.rstrip('.')}”)" if refusal else ""),
        "unheard": f"{charger} does not answer",
        "gone_on": f"{charger} said yes and goes on",
        "unproved": f"{charger} was told, and no reading shows that it stopped",
    }.get(found)
    if words is None:
        return None
    said = f"Not known to have stopped: {words[:180]}. Pull the charger’s plug now, then look at the pack."
    return Alarm(PULL_PLUG, "stop", now_s, said)
