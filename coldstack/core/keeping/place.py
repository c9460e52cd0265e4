"""Where packs lie: what the warmth and the box of a place mean for them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.errors import require_between
from coldstack.core.safety.cautions import Caution
from coldstack.core.units import DEG, plain_number

Container = Literal["", "vented_box", "bag", "sealed", "loose"]

GOOD_C = (5.0, 25.0)
HOTTEST_C = 38.0
"""Never above it: no car in the sun, no roof box. House figure."""
FROST_C = 0.0


@dataclass(frozen=True, slots=True)
class Place:
    """A place for packs: how warm now, how warm at its hottest, in what they lie.

    None and "" are not known.
    """

    name: str = ""
    now_c: float | None = None
    hottest_c: float | None = None
    container: Container = ""


def place_cautions(place: Place) -> list[Caution]:
    """What to mind at this place, the worst first; nothing for what is not known.

    Raises
    ------
    DomainError
        For temperatures that no room has, or a hottest below the present one.
    """
    for field, value in (("now_c", place.now_c), ("hottest_c", place.hottest_c)):
        if value is not None:
            require_between(field, "The temperature", value, low=-60, high=90, unit="°C")
    if place.now_c is not None and place.hottest_c is not None:
        require_between("hottest_c", "The hottest", place.hottest_c, low=place.now_c, high=90, unit="°C")
    return [*_heat(place), *_cold(place), *_container(place)]


def place_sentence(place: Place) -> str:
    """The place in a line: "Boathouse shelf, 12 °C: good for packs."."""
    name = place.name or "Where they lie"
    warmth = f", {plain_number(place.now_c)}{DEG}" if place.now_c is not None else ""
    if place.now_c is None and not place.container:
        return f"{name}: how warm is it there, and in what do they lie?" if place.name else ""
    return (
        f"{name}{warmth}{' now' if warmth else ''}."
        if place_cautions(place)
        else f"{name}{warmth}: good for packs."
    )


def _heat(place: Place) -> list[Caution]:
    known = [x for x in (place.now_c, place.hottest_c) if x is not None]
    if not known:
        return []
    hottest, n = max(known), plain_number
    if hottest > HOTTEST_C:
        when = "is" if place.now_c is not None and place.now_c > HOTTEST_C else "gets"
        return [
            Caution(
                "place_hot",
                f"It {when} {n(hottest)}{DEG} there, above {n(HOTTEST_C)}{DEG}: packs gas, swell and lose "
                "capacity, full ones first. Move them now: no car in the sun, no attic, no roof box.",
            )
        ]
    if hottest > GOOD_C[1]:
        return [
            Caution(
                "place_warm",
                f"Up to {n(hottest)}{DEG}: warmer than the {n(GOOD_C[0])} to {n(GOOD_C[1])}{DEG} in which "
                "packs age slowest. Keep only stored ones there, none full.",
            )
        ]
    return []


def _cold(place: Place) -> list[Caution]:
    if place.now_c is None or place.now_c >= GOOD_C[0]:
        return []
    n = plain_number
    if place.now_c < FROST_C:
        return [
            Caution(
                "place_frost",
                f"{n(place.now_c)}{DEG}: frost. Bring packs to the room’s warmth for some hours before they "
                "are charged, and before they are run.",
            )
        ]
    return [
        Caution(
            "place_cold",
            f"{n(place.now_c)}{DEG}: harmless for stored packs; warm them before use, dry, since they draw "
            "dew.",
        )
    ]


def _container(place: Place) -> list[Caution]:
    if place.container == "sealed":
        return [
            Caution(
                "place_sealed", "A box that cannot vent may burst if a pack burns in it: use one that can."
            )
        ]
    if place.container == "loose":
        return [
            Caution(
                "place_loose",
                "Loose on a shelf one burning pack takes the others along: a metal box that can vent, or a "
                "fire bag, away from what burns.",
            )
        ]
    return []
