"""An event in a sentence, as the list of a pack's life shows it."""

from __future__ import annotations

from coldstack.core.charging.inspection import SIGNS
from coldstack.core.keeping.retire import RETIRE_STEPS
from coldstack.core.life.events import Event
from coldstack.core.units import DEG, plain_number

STATE_WORDS = {
    "full": "full",
    "part": "part full",
    "stored": "brought to storage",
    "spent": "spent",
    "too_low": "too low",
}
BY_WORDS = {"hand": "", "checker": " by the checker", "charger": " by the charger", "file": " by a file"}


def sentence_of(e: Event) -> str:
    """What happened, with its figures."""
    head = _HEADS[e.kind](e)
    measured = [x for x in (_cells(e), _mohm(e), _warmth(e)) if x]
    tail = f": {', '.join(measured)}" if measured else ""
    return f"{head}{tail}."


def _cells(e: Event) -> str:
    def said(volts: tuple[float, ...]) -> str:
        return " ".join(f"{v:.3f}" for v in volts) + " V"

    if e.kind in ("charge", "run", "charging"):
        before = f"from {said(e.cell_v)}" if e.cell_v else _whole(e, "from ")
        after = f"to {said(e.end_cell_v)}" if e.end_cell_v else ""
        return " ".join(x for x in (before, after) if x)
    return said(e.cell_v) if e.cell_v else _whole(e)


def _whole(e: Event, word: str = "") -> str:
    return "" if e.pack_v is None else f"{word}{e.pack_v:.2f} V, the whole pack"


def _mohm(e: Event) -> str:
    return " ".join(plain_number(r) for r in e.cell_mohm) + " mΩ" if e.cell_mohm else ""


def _warmth(e: Event) -> str:
    if e.temperature_c is not None:
        return f"{plain_number(e.temperature_c)}{DEG}"
    return "at the room’s warmth" if e.at_room else ""


def _reading(e: Event) -> str:
    return f"Read{BY_WORDS[e.by]}"


def _inspection(e: Event) -> str:
    if not e.signs:
        return "Looked at and felt: sound"
    return "Looked at and felt: " + ", ".join(SIGNS[s].name.lower() for s in e.signs if s in SIGNS)


def _charging(e: Event) -> str:
    return "Put on the charger"


def _charge(e: Event) -> str:
    ended = {
        "done": "Charged full",
        "stopped": "Charge stopped",
        "danger": "Charge stopped for danger",
        "": "Charged",
    }[e.ended]
    put_in = f", {plain_number(e.mah)} mAh put in" if e.mah else ""
    why = f" ({e.text.rstrip('.')})" if e.text and e.ended in ("stopped", "danger") else ""
    return f"{ended}{why}{put_in}"


def _run(e: Event) -> str:
    parts = [f"Run for {plain_number(e.minutes)} min"] if e.minutes else ["Run"]
    if e.landing_cell_v is not None:
        parts.append(f"landed at {e.landing_cell_v:.2f} V a cell")
    if e.mah:
        parts.append(f"{plain_number(e.mah)} mAh put back")
    return ", ".join(parts)


def _state(e: Event) -> str:
    return f"Noted: {STATE_WORDS.get(e.state, e.state)}"


def _retirement(e: Event) -> str:
    return f"Retiring: {len(e.steps)} of {len(RETIRE_STEPS)} steps done"


def _note(e: Event) -> str:
    return e.text.rstrip(".")


_HEADS = {
    "reading": _reading,
    "inspection": _inspection,
    "charging": _charging,
    "charge": _charge,
    "run": _run,
    "state": _state,
    "retirement": _retirement,
    "note": _note,
}


def records_more(count: int) -> str:
    """So many records more that a pack of unknown past wants."""
    return "one charge, run or check more" if count == 1 else f"{count} charges, runs or checks more"
