"""Rules of the watch about those who speak: nobody looks, the charger is silent, says what cannot be, or
lives by a clock of its own."""

from __future__ import annotations

from collections.abc import Iterator

from coldstack.core.units import minutes_words
from coldstack.core.watching.alarm import LOOK, UNBELIEVABLE, Alarm, AlarmLevel
from coldstack.core.watching.expected import looks
from coldstack.core.watching.heard import Heard

SILENT_S = 5.0
DOUBT_WARN_S, DOUBT_STOP_S = 15.0, 30.0
"""So long without a believable word from the charger, in its own time: an alarm; then the charge is stopped.
House figures."""
CLOCK_OVER_S, CLOCK_OURS_S = 60.0, 10.0
"""Its clock is held against ours over so much of its time, and so much of ours: a simulated one that is quick
may be kept from its time for seconds by a busy machine."""
CLOCK_RATES = (0.5, 2.0)
"""It may go so much slower or faster than it says. House figures."""


def looked(h: Heard) -> Iterator[Alarm]:
    """Somebody must look, again and again."""
    times = looks(h.expected, h.looked_s)
    if h.now_s >= times.stop_s:
        ago = minutes_words((h.now_s - h.looked_s) / 60)
        yield Alarm("unattended", "stop", h.now_s, f"Nobody looked for {ago}. A charge is not left alone.")
    elif h.now_s >= times.due_s:
        words = (
            "Look now: touch the pack, see that it is cool and flat. It stops in "
            f"{max(0, round((times.stop_s - h.now_s) / 60))} min otherwise."
        )
        yield Alarm(LOOK, "warn", h.now_s, words)


def answers(h: Heard) -> Iterator[Alarm]:
    """The charger is silent: it goes on by itself."""
    if h.silent_s >= SILENT_S:
        words = (
            "The charger does not answer. It goes on by itself, and cannot be stopped from here: go to it."
        )
        yield Alarm("link_lost", "warn", h.now_s, words)


def says_what_can_be(h: Heard) -> Iterator[Alarm]:
    """Nothing believable for a while: what is not known to be well is not well."""
    if h.doubt_s < DOUBT_WARN_S:
        return
    what = f" ({h.doubt})" if h.doubt else ""
    words = f"For {h.doubt_s:.0f} s the charger has said nothing that can be believed{what}."
    level: AlarmLevel = "stop" if h.doubt_s >= DOUBT_STOP_S else "warn"
    yield Alarm(UNBELIEVABLE, level, h.now_s, f"{words} Go to it and look at the pack.")


def keeps_time(h: Heard) -> Iterator[Alarm]:
    """Timer and looks go by the charger's clock, which goes as ours does."""
    if not h.clock or h.silent_s > 0:
        return
    last = h.clock[-1]
    for mark in reversed(h.clock):
        ours_s = last.ours_s - mark.ours_s
        if ours_s < CLOCK_OURS_S or ours_s * h.speed < CLOCK_OVER_S:
            continue
        rate = (last.theirs_s - mark.theirs_s) / (ours_s * h.speed)
        if not CLOCK_RATES[0] <= rate <= CLOCK_RATES[1]:
            words = (
                f"The charger’s clock goes {rate:.2g} times as fast as it should: neither its timer nor its "
                "mAh can be trusted. Go to it."
            )
            yield Alarm("clock", "stop", h.now_s, words)
        return
