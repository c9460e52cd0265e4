"""Moods of a charger: what a stranger's machine may say and do, each as a change of what an honest one says.

A mood spoils samples, whole reports, or answers to a stop; or does something to the pack. The same table is
spoken in both protocols.
"""

from __future__ import annotations

import math
import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from coldstack.server.devices.line_protocol import UNKNOWN_RUN, Message
from coldstack.standins.charger import SimulatedCharger
from coldstack.standins.lines import LineServer, Refusal

AT_ONCE, BY_A_SLOPE = 15.0, 120.0
"""Within so much of its time a mood is an alarm: what shows in a reading, and what only a slope tells."""
LETTERS = {"charging": "C", "done": "D", "stopped": "S"}
CELLS, AMPS = 4, 3.7


class Deaf(Exception):
    """It hangs up."""


@dataclass(frozen=True)
class Mood:
    """How a charger is. ``sample`` and ``report`` are told the seconds since it is so; ``stop`` what the
    honest one would do."""

    name: str
    within: float = AT_ONCE
    sample: Callable[[Message, float], Message] | None = None
    report: Callable[[Message, float], Message] | None = None
    stop: Callable[[Callable[[], Message]], Message] | None = None
    act: Callable[[SimulatedCharger], None] | None = None


def but(**changes: Any) -> Callable[[Message, float], Message]:
    """The same with these fields otherwise; a field set to ... is left out."""

    def spoilt(said: Message, _: float) -> Message:
        return {k: v for k, v in {**said, **changes}.items() if v is not ...}

    return spoilt


def times(**factors: float) -> Callable[[Message, float], Message]:
    return lambda said, _: {**said, **{k: said[k] * f for k, f in factors.items()}}


def cells(change: Callable[[list[float]], list[Any]]) -> Callable[[Message, float], Message]:
    return lambda said, _: {**said, "cell_v": change(said["cell_v"])}


def stuck(*names: str) -> Callable[[Message, float], Message]:
    """These figures stay as they were when it began."""
    held: Message = {}

    def spoilt(said: Message, _: float) -> Message:
        for name in names:
            held.setdefault(name, said[name])
        return {**said, **held}

    return spoilt


def clock(rate: float) -> Callable[[Message, float], Message]:
    """Its clock goes so fast from now on."""
    return lambda said, since: {**said, "time_s": said["time_s"] + (rate - 1) * since}


def honest_clock(said: Message, since: float) -> Message:
    """Its own clock goes right beside samples whose clock goes at a tenth."""
    return {**said, "time_s": said["time_s"] + 0.9 * since}


def refuses(why: str, kind: str = "") -> Callable[[Message, float], Message]:
    def spoilt(said: Message, _: float) -> Message:
        raise Refusal(why, kind)

    return spoilt


def hangs_up(said: Message, _: float) -> Message:
    raise Deaf


def fault(name: str, cell: int = 2) -> Callable[[SimulatedCharger], None]:
    return lambda device: device.ports[0].put_fault(name, cell)


def emptied(said: Message, since: float) -> Message:
    """20 A out of it, and its cells go down to 2 V."""
    volts = [max(2.0, v - 0.03 * since) for v in said["cell_v"]]
    return {**said, "cell_v": volts, "current_a": -20.0}


def tiny_draw(said: Message, since: float) -> Message:
    """A hair below zero amps beside an empty cell, while it warms up to 92 °C: it blinded the watch once."""
    return {**said, "current_a": -0.001, "cell_v": [3.2] * CELLS, "temperature_c": 22.0 + 6 * since}


def refuse_stop(why: str) -> Callable[[Callable[[], Message]], Message]:
    def answer(_: Callable[[], Message]) -> Message:
        raise Refusal(why)

    return answer


def deaf_to_stop(_: Callable[[], Message]) -> Message:
    raise Deaf


NO_MATTER: tuple[Any, ...] = (math.nan, None, "x", 10**400)
"""What no figure can be, whatever it is of."""
HOT = but(temperature_c=75.0)
"""What calls for a stop at once."""


def moods() -> list[Mood]:
    """All of them, each with a memory of its own."""
    names = {
        "cell_v": "cells",
        "current_a": "amps",
        "mah": "mAh",
        "temperature_c": "degrees",
        "time_s": "seconds",
    }
    found = [
        Mood(f"{what}: {value!r:.9}", sample=but(**{field: [value] * CELLS if field == "cell_v" else value}))
        for field, what in names.items()
        for value in NO_MATTER
    ]
    one = [3.8, math.nan, 3.8, 3.8]
    return [
        *found,
        Mood("one cell NaN", sample=but(cell_v=one)),
        Mood("three cells of four", sample=cells(lambda v: v[:3])),
        Mood("five cells of four", sample=cells(lambda v: [*v, v[0]])),
        Mood("no cells", sample=but(cell_v=[])),
        Mood("all cells at 1.0 V", sample=but(cell_v=[1.0] * CELLS)),
        Mood("all cells at 0.0 V", sample=but(cell_v=[0.0] * CELLS)),
        Mood("one cell at 0.0 V", sample=cells(lambda v: [*v[:3], 0.0])),
        Mood("one cell at 4.5 V", sample=cells(lambda v: [4.5, *v[1:]])),
        Mood("4.5 V on three of four cells", sample=but(cell_v=[4.5] * 3)),
        Mood("one cell at 38 V", sample=cells(lambda v: [38.0, *v[1:]])),
        Mood("0.001 A out of an empty pack that burns", sample=tiny_draw),
        Mood("20 A out of the pack", sample=emptied),
        Mood("2 A out of the pack", sample=but(current_a=-2.0)),
        Mood("ten times the amps", sample=times(current_a=10.0)),
        Mood("1.3 times the amps", sample=times(current_a=1.3)),
        Mood("it does what it likes", act=fault("over_current")),
        Mood("mAh stand still", BY_A_SLOPE, sample=stuck("mah")),
        Mood(
            "mAh at three times", BY_A_SLOPE, sample=lambda s, t: {**s, "mah": s["mah"] + 2 * t * AMPS / 3.6}
        ),
        Mood("mAh leap", BY_A_SLOPE, sample=lambda s, _: {**s, "mah": s["mah"] + 400.0}),
        Mood("mAh fall", sample=but(mah=0.5)),
        Mood("volts stand still", BY_A_SLOPE, sample=stuck("cell_v")),
        Mood(
            "all readings stand still",
            BY_A_SLOPE,
            sample=stuck("cell_v", "current_a", "mah", "temperature_c"),
        ),
        Mood("one reading for ever", sample=stuck("seq", "time_s", "cell_v", "current_a", "mah")),
        Mood("-39 °C", sample=but(temperature_c=-39.0)),
        Mood("75 °C", sample=HOT),
        Mood("92 °C", sample=but(temperature_c=92.0)),
        Mood("900 °C", sample=but(temperature_c=900.0)),
        Mood("a degree a second", sample=lambda s, t: {**s, "temperature_c": s["temperature_c"] + t}),
        Mood("no degrees any more", sample=but(temperature_c=...)),
        Mood("its clock is frozen", sample=stuck("time_s")),
        Mood("its clock goes back", sample=but(time_s=1.0)),
        Mood("its clock creeps", BY_A_SLOPE, sample=clock(0.02)),
        Mood("its clock goes at a tenth", BY_A_SLOPE, sample=clock(0.1)),
        Mood("its clock goes at 0.4", BY_A_SLOPE, sample=clock(0.4)),
        Mood("its clock goes three times as fast", BY_A_SLOPE, sample=clock(3.0)),
        Mood("its samples’ clock goes at a tenth", BY_A_SLOPE, sample=clock(0.1), report=honest_clock),
        Mood("its number is a text", sample=but(seq="x")),
        Mood("its number goes back", sample=but(seq=1)),
        Mood("its number is huge", sample=but(seq=2**63)),
        Mood("an unknown state", report=but(state="happy")),
        Mood("no state", report=but(state="")),
        Mood("full, says it, and charges", report=but(state="done", ended="full")),
        Mood("stopped, says it, and charges", report=but(state="stopped", ended="button")),
        Mood("no samples any more", sample=stuck("seq")),
        Mood("busy for ever", report=refuses("Busy, ask later.")),
        Mood("it does not know this charge, and charges", report=refuses("What charge?", UNKNOWN_RUN)),
        Mood("it hangs up", report=hangs_up),
        Mood("a cell falls", BY_A_SLOPE, sample=cells(lambda v: [v[0] - 0.2, *v[1:]])),
        Mood("a cell does not follow", 180.0, act=fault("not_following")),
        Mood("refuses the stop: no", sample=HOT, stop=refuse_stop("no")),
        Mood("refuses the stop: busy", sample=HOT, stop=refuse_stop("Busy, ask later.")),
        Mood("refuses the stop in our words", sample=HOT, stop=refuse_stop("It goes on charging.")),
        Mood("refuses the stop without words", sample=HOT, stop=refuse_stop("")),
        Mood("says yes to the stop, no more", sample=HOT, stop=lambda _: {}),
        Mood("says yes and charges", sample=HOT, stop=lambda _: {"state": "charging"}),
        Mood("says that it stopped", sample=HOT, stop=lambda _: {"state": "stopped"}),
        Mood("hangs up on the stop", sample=HOT, stop=deaf_to_stop),
        Mood(
            "stops, and says it refuses",
            sample=HOT,
            stop=lambda honest: refuse_stop("no")(honest()) if honest() else {},
        ),
        Mood("believes nothing and refuses", report=but(state="happy"), stop=refuse_stop("no")),
        Mood("silent to all, also the stop", report=hangs_up, stop=deaf_to_stop),
        Mood(
            "says that it stopped, and its amps stay",
            report=but(state="stopped"),
            stop=lambda _: {"state": "stopped"},
        ),
    ]


class MoodyCharger:
    """An honest charger of one port behind a mood, which begins when it is told to."""

    def __init__(self, mood: Mood | None, name: str) -> None:
        self.mood, self.begun_s = mood, math.inf
        self.device = SimulatedCharger(name, 1, ("lipo",))
        self.name, self.ports = name, self.device.ports
        self._spoilt: dict[int, Message] = {}

    @property
    def charges(self) -> bool:
        """Whether current flows in truth."""
        return self.ports[0].state == "charging"

    def begin(self) -> None:
        """From now on it is so."""
        self.begun_s = self.ports[0].time_s
        if self.mood and self.mood.act:
            self.mood.act(self.device)
        if self.mood and self.mood.sample:
            self.mood.sample(dict(self.ports[0].samples[-1]), 0.0)  # what stands still stands from here

    def answer(self, message: Message) -> Message:
        """See `SimulatedCharger.answer`; raises ConnectionError where it hangs up."""
        try:
            if message.get("do") == "samples":
                return self._report(message)
            if message.get("do") == "stop" and self.mood and self.mood.stop:
                return self.mood.stop(lambda: self.device.answer(message))
        except Deaf:
            raise ConnectionError from None
        return self.device.answer(message)

    def _report(self, message: Message) -> Message:
        said = self.device.answer({**message, "after": 0})
        since = said["time_s"] - self.begun_s
        samples = [self._sample(x) for x in said["samples"]]
        after = message.get("after", 0)
        said["samples"] = [x for x in samples if not (isinstance(x.get("seq"), int) and x["seq"] <= after)]
        if self.mood is None or since < 0:
            return said
        if self.mood.sample:
            moved = self.mood.sample(dict(self.device.answer({**message, "after": 0})["samples"][-1]), since)
            said["time_s"] = moved.get("time_s")
        return self.mood.report(said, since) if self.mood.report else said

    def _sample(self, honest: Message) -> Message:
        since = honest["time_s"] - self.begun_s
        if self.mood is None or self.mood.sample is None or since <= 0:
            return honest
        return self._spoilt.setdefault(honest["seq"], self.mood.sample(dict(honest), since))

    def line(self, number: int) -> str:
        """Its line of numbers; raises ConnectionError where it hangs up, or says "not now", for which this
        tongue has no word."""
        try:
            said = self.answer({"do": "samples", "port": number, "run": self.ports[0].run})
        except Refusal as refusal:
            if refusal.kind:
                return f"P;{number};I;"
            raise ConnectionError from None
        head = f"P;{number};{LETTERS.get(said.get('state'), said.get('state'))};{self.ports[0].run}"
        if not said["samples"]:
            return head
        last = said["samples"][-1]
        amps = last.get("current_a")
        number = isinstance(amps, (int, float)) and not isinstance(amps, bool)
        milliamps = 1000 * amps if number and abs(amps) < 1e300 else amps
        warmth = last.get("temperature_c")
        figures = (
            last.get("seq"),
            last.get("time_s"),
            milliamps,
            last.get("mah"),
            "" if warmth is None else warmth,
        )
        volts = last.get("cell_v") or []
        return ";".join(f"{x}"[:60] for x in (head, *figures, *volts))

    def answered(self, command: str) -> str:
        """Its answer to a word of command."""
        words = command.strip().split(";")
        try:
            self.answer({"do": words[0].lower(), "port": int(words[1])})
        except Refusal as refusal:
            return f"NO;{refusal}"
        except ConnectionError:
            return "?"
        return "OK"


def listening(charger: MoodyCharger) -> LineServer:
    """Its line protocol; who hangs up makes no noise."""
    server = LineServer(0, charger.answer)
    server.handle_error = lambda request, client_address: None
    threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True).start()
    return server
