"""Classes within the kinds of model: a racer is no camera quad, though both hover.

Watts per kg, usual minutes, the ratio of peak to average and the C that people buy are general knowledge
of the hobby, none read from a source: house figures with wide ranges. They fill what nobody told, are
marked as assumed, and give way to any figure that somebody gives. A class that nobody chose is guessed
from what was told, and said to be a guess.
"""

from __future__ import annotations

import csv
import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from importlib.resources import files

from coldstack.core.describing.model_kinds import MODEL_KINDS, model_kind
from coldstack.core.errors import DomainError

LIPO_V = 3.7
"""Nominal volts in which classes count cells. [V]"""


@dataclass(frozen=True, slots=True)
class ModelClass:
    """One class of model.

    ``w_per_kg`` it draws on average, all up; ``minutes`` people buy packs for, from and to; the peak is
    ``peak_ratio`` times the average, give or take a factor of ``peak_factor``, for ``peak_s`` about every
    ``peak_every_s``; ``label_c`` is what its packs are mostly printed with. ``over_steady`` is its average
    over what hovering or level flight takes, ``stick_used`` its peak over what its propellers take at full
    stick, ``thrust_to_weight`` what they pull standing still; 0 where that, or ``lift_to_drag``, says nothing
    of it. ``mass_g`` without the pack,
    ``cells`` in series from and to, ``common`` (how often one meets it among its kind) and ``words`` (in
    names that owners give) serve for guessing.
    """

    id: str
    kind: str
    name: str
    w_per_kg: float
    minutes: tuple[float, float]
    peak_ratio: float
    peak_factor: float
    peak_s: float
    peak_every_s: float
    label_c: float
    over_steady: float
    stick_used: float
    lift_to_drag: float
    thrust_to_weight: float
    mass_g: tuple[float, float]
    cells: tuple[int, int]
    common: float = 1.0
    words: str = ""

    @property
    def a_name(self) -> str:
        """Its name within a sentence: "a trainer", "an indoor model"."""
        return f"{'an' if self.name[0] in 'aeiou' else 'a'} {self.name}"

    @property
    def usual_mass_g(self) -> float:
        """The middle of its masses without the pack, by ratio. [g]"""
        return math.sqrt(self.mass_g[0] * self.mass_g[1])

    @property
    def usual_minutes(self) -> float:
        """The middle of its minutes, by ratio. [min]"""
        return math.sqrt(self.minutes[0] * self.minutes[1])


def _read() -> list[ModelClass]:
    text = (files("coldstack.core") / "data" / "model_classes.csv").read_text(encoding="utf-8")
    rows = csv.DictReader((x for x in text.splitlines() if not x.startswith("#")), delimiter=";")
    return [
        ModelClass(
            id=r["id"],
            kind=r["kind"],
            name=r["name"],
            minutes=(float(r["minutes_from"]), float(r["minutes_to"])),
            mass_g=(float(r["mass_from_g"]), float(r["mass_to_g"])),
            cells=(int(r["cells_from"]), int(r["cells_to"])),
            words=r["words"],
            **{name: float(r[name]) for name in _FIGURES},
        )
        for r in rows
    ]


_FIGURES = (
    *("w_per_kg", "peak_ratio", "peak_factor", "peak_s", "peak_every_s", "label_c", "common"),
    *("over_steady", "stick_used", "lift_to_drag", "thrust_to_weight"),
)
MODEL_CLASSES: dict[str, ModelClass] = {c.id: c for c in _read()}


def classes_of(kind_id: str) -> list[ModelClass]:
    """The classes of a kind, in the order in which they are offered."""
    return [c for c in MODEL_CLASSES.values() if c.kind == model_kind(kind_id).id]


def model_class(class_id: str, kind_id: str) -> ModelClass:
    """The class with this id; raises DomainError for one that the kind has not."""
    found = MODEL_CLASSES.get(class_id)
    if found is None or found.kind != kind_id:
        names = ", ".join(c.name for c in classes_of(kind_id))
        raise DomainError("model_class", f"Choose which {MODEL_KINDS[kind_id].name} it is: {names}.")
    return found


@dataclass(frozen=True, slots=True)
class Clues:
    """What a class is guessed by: name, mass without the pack [g], cells (in LiPo cells), usable energy per
    mass all up [Wh/kg]; and where they were told the printed C, the minutes, average watts per kg, and the
    watts per kg that its controllers let through for ten seconds."""

    name: str
    mass_g: float | None
    cells: float
    wh_per_kg: float | None = None
    label_c: float | None = None
    minutes: float | None = None
    w_per_kg: float | None = None
    burst_w_per_kg: float | None = None


CLEAR_ODDS = 6.0
"""So many times likelier than the next class, a guess needs no question. House figure."""
APART = 1.3
"""Minutes or peaks of two classes that differ by this factor make another answer."""
NAMED = math.log(30.0)
"""What a word in its name counts for. House figure, as those below."""
MASS_OUTSIDE = 0.25
"""How quickly it becomes unlikely outside its range of masses, in logs."""
CELLS_OUTSIDE = 1.5
PEAK_OF_BURST = 0.6
"""Of what its controllers let through for ten seconds, what a model mostly draws at its peak."""
SPREADS = {"wh_per_kg": 0.30, "label_c": 0.65, "minutes": 0.35, "w_per_kg": 0.40, "burst_w_per_kg": 0.50}
"""How far a model of a class mostly is from the usual figure, in logs."""


@dataclass(frozen=True, slots=True)
class Likely:
    """Classes with how likely each is, the likeliest first; the shares add up to one. ``chosen``: by its
    owner, not guessed."""

    classes: tuple[tuple[ModelClass, float], ...]
    chosen: bool = False

    @property
    def best(self) -> ModelClass:
        """The likeliest."""
        return self.classes[0][0]

    @property
    def decides(self) -> bool:
        """Whether another class is nearly as likely, and would draw otherwise: then it is worth asking."""
        first, share = self.classes[0]
        return any(
            share < CLEAR_ODDS * other_share and _draws_otherwise(first, other)
            for other, other_share in self.classes[1:]
        )

    def usual(self, of: Callable[[ModelClass], float]) -> float:
        """A figure of the classes, weighed by how likely each is, by ratio; 0 where none has it."""
        known = [(of(c), share) for c, share in self.classes if of(c) > 0]
        weight = sum(share for _, share in known)
        return math.exp(sum(share * math.log(x) for x, share in known) / weight) if known else 0.0


def chosen_class(class_id: str, kind_id: str) -> Likely:
    """The class that its owner chose."""
    return Likely(((model_class(class_id, kind_id), 1.0),), chosen=True)


def guessed_class(kind_id: str, clues: Clues) -> Likely:
    """The classes of this kind by what the clues say for each."""
    found = [(c, _likelihood(c, clues)) for c in classes_of(kind_id)]
    most = max(x for _, x in found)
    weights = [(c, math.exp(x - most)) for c, x in found]
    total = sum(w for _, w in weights)
    ranked = sorted(((c, w / total) for c, w in weights), key=lambda x: -x[1])
    return Likely(tuple(ranked))


def _draws_otherwise(one: ModelClass, other: ModelClass) -> bool:
    apart = (one.usual_minutes / other.usual_minutes, one.peak_ratio / other.peak_ratio)
    return any(abs(math.log(x)) > math.log(APART) for x in apart)


def _likelihood(c: ModelClass, clues: Clues) -> float:
    """In logs, up to what all classes have in common."""
    found = math.log(c.common)
    if c.words and re.search(rf"\b(?:{c.words})", clues.name, re.I):
        found += NAMED
    if clues.mass_g is not None:
        found -= (_beyond(clues.mass_g, *c.mass_g) / MASS_OUTSIDE) ** 2 / 2
        # a class that spans many masses is less likely at each of them
        found -= math.log(math.log(c.mass_g[1] / c.mass_g[0]))
    found -= CELLS_OUTSIDE * max(c.cells[0] - clues.cells, clues.cells - c.cells[1], 0)
    usual = {
        "wh_per_kg": c.w_per_kg * c.usual_minutes / 60,
        "label_c": c.label_c,
        "minutes": c.usual_minutes,
        "w_per_kg": c.w_per_kg,
        "burst_w_per_kg": c.w_per_kg * c.peak_ratio / PEAK_OF_BURST,
    }
    for clue, spread in SPREADS.items():
        told = getattr(clues, clue)
        if told is not None:
            found -= (math.log(told / usual[clue]) / spread) ** 2 / 2
    return found


def _beyond(value: float, low: float, high: float) -> float:
    """How far a figure lies outside a range, in logs; 0 within."""
    return max(math.log(low / value), math.log(value / high), 0.0)
