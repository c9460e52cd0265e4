"""Watching a charge: each rule is judged on its own, against what is expected; what stops stands first.

A rule that fails is an alarm itself, and twice in a row a stop: what cannot be judged is not well.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from coldstack.core.watching.alarm import Alarm, cannot_judge
from coldstack.core.watching.expected import Expected
from coldstack.core.watching.heard import Heard
from coldstack.core.watching.rules import bounds, flow, speech, volts, warmth
from coldstack.core.watching.samples import Sample

ALARM_WITHIN_S = {
    "not_following": 180.0,
    "weak_cell": 600.0,
    "warm": 300.0,
    "hot": 600.0,
    "supply_sag": 10.0,
    "link_lost": 10.0,
    "over_full": 10.0,
    "over_current": 15.0,
    "wrong_way": 15.0,
    "dead_cell": 15.0,
    "unbelievable": 15.0,
    "miscount": 120.0,
    "stuck": 600.0,
    "clock": 120.0,
}
"""From when a fault begins to when it is said, of the charge's own time: what shows at once within two
samples, what needs a slope within minutes. Measured on the simulated charger, and tested."""


@dataclass(frozen=True, slots=True)
class WatchRule:
    """One rule, with what it judges, in words."""

    id: str
    what: str
    judge: Callable[[Heard], Iterable[Alarm]]


RULES: tuple[WatchRule, ...] = (
    WatchRule("over_full", "whether a cell is over full", volts.over_full),
    WatchRule("hot", "how hot the pack is", warmth.hot),
    WatchRule("over_current", "its amps against those set", flow.over_current),
    WatchRule("wrong_way", "which way the current flows", flow.wrong_way),
    WatchRule("dead_cell", "whether a cell is dead", volts.dead_cell),
    WatchRule("cutoff", "the capacity cut-off", bounds.cutoff),
    WatchRule("timer", "the safety timer", bounds.timer),
    WatchRule("falling", "whether a cell falls", volts.falling),
    WatchRule("following", "whether its cells follow", volts.following),
    WatchRule("counted", "its mAh against its amps", flow.counted),
    WatchRule("stuck", "whether its readings stand still", flow.stuck),
    WatchRule("warming", "how far the pack has warmed", warmth.warming),
    WatchRule("keeps_time", "the charger’s clock", speech.keeps_time),
    WatchRule("believable", "whether the charger can be believed", speech.says_what_can_be),
    WatchRule("answers", "whether the charger answers", speech.answers),
    WatchRule("looked", "whether somebody looked", speech.looked),
    WatchRule("ahead", "whether a cell is ahead", volts.ahead),
    WatchRule("supply", "the charger’s supply", bounds.supply),
)
"""What is certain stands before what is doubtful."""
_WITHOUT_FIGURES = ("looked", "answers", "believable")


@dataclass(frozen=True, slots=True)
class Judged:
    """What is wrong, what stops first; and the rules that could not be judged, by id."""

    alarms: tuple[Alarm, ...]
    failed: frozenset[str] = frozenset()


def judge(h: Heard, *, failed_before: frozenset[str] = frozenset()) -> Judged:
    """Everything that is wrong now. ``failed_before``: rules that failed in the round before."""
    rules = [r for r in RULES if r.id in _WITHOUT_FIGURES] if h.expected.unread else RULES
    found: dict[str, Alarm] = {}
    failed: dict[str, Alarm] = {}
    if h.expected.unread:
        # nothing else can be said of it: no figure to judge it by is to be trusted
        words = "What this charge was set to cannot be read any more, so nobody can watch it. Start it anew."
        found["unread"] = Alarm("unread", "stop", h.now_s, words)
    for rule in rules:
        try:
            for alarm in rule.judge(h):
                _keep_worst(found, alarm)
        except Exception as error:  # whatever it is: a rule that fails must not silence the others
            again = rule.id in failed_before
            failed[rule.id] = cannot_judge(rule.what, _said(error), again=again, now_s=h.now_s)
    for alarm in failed.values():
        _keep_worst(found, alarm)
    ordered = sorted(found.values(), key=lambda a: (a.level != "stop", a.time_s))
    return Judged(tuple(ordered), frozenset(failed))


def alarms(
    samples: Sequence[Sample],
    expected: Expected,
    *,
    looked_s: float,
    now_s: float,
    silent_s: float = 0.0,
    doubt_s: float = 0.0,
    doubt: str = "",
) -> list[Alarm]:
    """What is wrong after these samples, of which the last is the latest."""
    h = Heard(
        expected,
        samples[0] if samples else None,
        tuple(samples),
        tuple(samples[-1:]),
        looked_s=looked_s,
        now_s=now_s,
        silent_s=silent_s,
        doubt_s=doubt_s,
        doubt=doubt,
    )
    return list(judge(h).alarms)


def _keep_worst(found: dict[str, Alarm], alarm: Alarm) -> None:
    """One alarm of a kind, the one that stops."""
    if alarm.id not in found or (alarm.level == "stop" and found[alarm.id].level != "stop"):
        found[alarm.id] = alarm


def _said(error: Exception) -> str:
    return f"{type(error).__name__}: {error}"[:80]
