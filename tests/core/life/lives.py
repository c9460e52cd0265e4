"""Made-up lives for the tests: one 4S pack, and strategies for what may happen to it."""

from __future__ import annotations

from itertools import count

from hypothesis import strategies as st

from coldstack.core.charging.inspection import SIGNS
from coldstack.core.keeping.retire import RETIRE_STEPS
from coldstack.core.life.events import Event
from tests.core.boards.laid import four_s

PACK = four_s("01")
HOUR, DAY = 3600.0, 86_400.0
NOW = 1_000 * DAY
_numbers = count(1)


def event(kind, hours_ago=1.0, **told) -> Event:
    """One event so long before NOW, told when it happened."""
    at = NOW - HOUR * hours_ago
    return Event(**{"key": f"event-{next(_numbers)}", "at": at, "said": at, "kind": kind, **told})


def cells(volts):
    """Four alike."""
    return (volts,) * 4


VOLTS = st.floats(2.5, 4.25).map(lambda v: round(v, 3))
STATES = st.sampled_from(["full", "part", "stored", "spent", "too_low"])


@st.composite
def events(draw) -> Event:
    """Anything that may be said of the pack, at any time in two weeks, or dated ahead."""
    kind = draw(
        st.sampled_from(["reading", "inspection", "charging", "charge", "run", "state", "retirement"])
    )
    told = {
        "reading": lambda: {
            "cell_v": tuple(draw(st.lists(VOLTS, min_size=4, max_size=4))),
            "temperature_c": draw(st.none() | st.floats(-10, 60)),
        },
        "inspection": lambda: {
            "signs": tuple(draw(st.lists(st.sampled_from(sorted(SIGNS)), max_size=2, unique=True))),
            "at_room": draw(st.booleans()),
        },
        "charging": lambda: {"charge": draw(st.integers(1, 3)), "by": "charger"},
        "charge": lambda: {
            "charge": draw(st.none() | st.integers(1, 3)),
            "ended": draw(st.sampled_from(["", "done", "stopped", "danger"])),
            "mah": draw(st.none() | st.floats(0, 4000)),
            "cell_mohm": draw(st.just(()) | st.just((3.0, 3.1, 3.0, 3.2))),
        },
        "run": lambda: {"minutes": draw(st.floats(1, 20)), "landing_cell_v": draw(st.none() | VOLTS)},
        "state": lambda: {"state": draw(STATES)},
        "retirement": lambda: {"steps": RETIRE_STEPS[: draw(st.integers(0, len(RETIRE_STEPS)))]},
    }[kind]()
    at = NOW - draw(st.integers(-2 * 24 * 60, 14 * 24 * 60)) * 60.0
    said = min(at, NOW) + draw(st.sampled_from([0.0, 0.0, 7200.0]))
    key = f"key-{draw(st.integers(1, 60))}"
    return Event(key=key, at=at, said=said, kind=kind, withdrawn=draw(st.integers(0, 9)) == 0, **told)


LIVES = st.lists(events(), max_size=25)
