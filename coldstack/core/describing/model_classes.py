"""Classes within the kinds of model: a racer is no camera quad, though both hover.

Watts per kg, usual minutes, the ratio of peak to average and the C that people buy are general knowledge
of the hobby, none read from a source: house figures with wide ranges. They fill what nobody told, are
marked as assumed, and give way to any figure that somebody gives. A class that nobody chose is guessed
from what was told, and said to be a guess.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass

from coldstack.core.describing.model_kinds import MODEL_KINDS, model_kind
from coldstack.core.errors import DomainError


@dataclass(frozen=True, slots=True)
class ModelClass:
    """One class of model.

    ``w_per_kg`` it draws on average, all up; ``minutes`` people buy packs for, from and to; the peak is
    ``peak_ratio`` times the average, give or take a factor of ``peak_factor``, for ``peak_s`` about every
    ``peak_every_s``; ``label_c`` is what its packs are mostly printed with. ``mass_g`` without the pack,
    ``cells`` in series from and to, ``common`` (how often one meets it among its kind) and ``words`` (in
    names that owners give) serve for guessing. ``plugs``: what its packs come with, the smallest first.
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
    mass_g: tuple[float, float]
    cells: tuple[int, int]
    common: float = 1.0
    words: str = ""

    @property
    def usual_minutes(self) -> float:
        """The middle of its minutes, by ratio. [min]"""
        return math.sqrt(self.minutes[0] * self.minutes[1])


_ROWS: tuple[ModelClass, ...] = (
    ModelClass(
        "trainer",
        "plane",
        "trainer",
        80,
        (9, 14),
        3,
        1.3,
        5,
        40,
        30,
        (700, 4500),
        (3, 6),
        1.2,
        r"train|beginner|high.?wing",
    ),
    ModelClass(
        "sport",
        "plane",
        "sport flyer",
        150,
        (6, 10),
        3,
        1.4,
        5,
        40,
        40,
        (500, 4000),
        (3, 6),
        1,
        r"sport|low.?wing|wing|biplane",
    ),
    ModelClass(
        "park", "plane", "park flyer", 110, (7, 11), 2.8, 1.4, 4, 35, 25, (150, 700), (2, 3), 1, r"park|slow"
    ),
    ModelClass(
        "indoor",
        "plane",
        "indoor model",
        125,
        (5, 8),
        2.8,
        1.4,
        3,
        30,
        30,
        (10, 180),
        (1, 2),
        1,
        r"indoor|hall|gym",
    ),
    ModelClass(
        "aerobat",
        "plane",
        "3D aerobat",
        180,
        (6, 9),
        3.5,
        1.4,
        4,
        25,
        50,
        (350, 6000),
        (3, 12),
        0.8,
        r"3d|aerobat|freestyle",
    ),
    ModelClass(
        "pattern",
        "plane",
        "pattern plane",
        190,
        (7, 10),
        3,
        1.3,
        6,
        40,
        35,
        (2200, 4800),
        (5, 10),
        0.4,
        r"pattern|precision",
    ),
    ModelClass(
        "scale",
        "plane",
        "scale model",
        115,
        (7, 12),
        2.5,
        1.4,
        6,
        45,
        35,
        (1200, 9000),
        (3, 12),
        0.9,
        r"scale|warbird|tourer|bomber|fighter",
    ),
    ModelClass(
        "thermal",
        "sailplane",
        "thermal soarer",
        27,
        (12, 35),
        12,
        1.6,
        15,
        150,
        45,
        (700, 2600),
        (2, 4),
        0.7,
        r"soar|thermal|climb",
    ),
    ModelClass(
        "motor_glider",
        "sailplane",
        "motor glider",
        38,
        (12, 25),
        5.5,
        1.4,
        12,
        90,
        30,
        (150, 6000),
        (2, 6),
        1.2,
        r"glider",
    ),
    ModelClass(
        "hotliner",
        "sailplane",
        "hotliner",
        120,
        (8, 12),
        8,
        1.5,
        8,
        70,
        60,
        (700, 2500),
        (3, 6),
        0.5,
        r"hot|fast|speed",
    ),
    ModelClass(
        "small_jet",
        "jet",
        "small fan jet (up to 70 mm)",
        345,
        (3, 5),
        1.65,
        1.2,
        10,
        40,
        45,
        (250, 1600),
        (3, 4),
        1,
        r"50|64|70",
    ),
    ModelClass(
        "fan_jet",
        "jet",
        "fan jet (80 to 90 mm)",
        360,
        (3.5, 5),
        1.65,
        1.2,
        12,
        40,
        50,
        (1600, 4200),
        (5, 8),
        1,
        r"80|90",
    ),
    ModelClass(
        "large_jet",
        "jet",
        "large fan jet",
        340,
        (3.5, 5.5),
        1.65,
        1.2,
        12,
        40,
        50,
        (4200, 15000),
        (8, 14),
        0.7,
        r"large|100|105|110|120",
    ),
    ModelClass(
        "micro",
        "multirotor",
        "micro",
        380,
        (3, 5),
        3,
        1.5,
        3,
        25,
        45,
        (12, 90),
        (1, 3),
        1,
        r"whoop|micro|tiny|toothpick",
    ),
    ModelClass(
        "racer", "multirotor", "racer", 600, (3, 5), 6, 1.5, 2, 15, 110, (230, 480), (4, 6), 0.9, r"rac"
    ),
    ModelClass(
        "freestyle",
        "multirotor",
        "freestyle",
        470,
        (3.5, 6),
        5.5,
        1.5,
        3,
        20,
        90,
        (90, 620),
        (3, 6),
        1.1,
        r"freestyle|cinematic",
    ),
    ModelClass(
        "camera",
        "multirotor",
        "camera carrier",
        240,
        (5, 12),
        3,
        1.4,
        3,
        30,
        50,
        (180, 3500),
        (3, 6),
        0.9,
        r"camera|photo|film|cine|ducted",
    ),
    ModelClass(
        "long_range",
        "multirotor",
        "long-range cruiser",
        195,
        (14, 25),
        4.5,
        1.6,
        5,
        60,
        25,
        (120, 1100),
        (3, 6),
        0.7,
        r"long|range|cruis|endur",
    ),
    ModelClass(
        "lifter",
        "multirotor",
        "lifter or surveyor",
        165,
        (12, 22),
        2.4,
        1.4,
        4,
        60,
        20,
        (2800, 25000),
        (6, 14),
        0.8,
        r"lift|survey|octo|heavy|spray|map",
    ),
    ModelClass(
        "micro_heli",
        "helicopter",
        "micro helicopter",
        225,
        (4, 7),
        2.8,
        1.4,
        3,
        25,
        35,
        (15, 120),
        (1, 2),
        1,
        r"micro|tiny",
    ),
    ModelClass(
        "heli_3d",
        "helicopter",
        "3D or sport helicopter",
        300,
        (4, 6.5),
        3.4,
        1.4,
        3,
        20,
        50,
        (150, 5500),
        (3, 14),
        1.1,
        r"3d|sport",
    ),
    ModelClass(
        "heli_scale",
        "helicopter",
        "scale helicopter",
        190,
        (5.5, 9),
        2.1,
        1.3,
        4,
        30,
        35,
        (900, 9000),
        (3, 12),
        0.6,
        r"scale",
    ),
    ModelClass(
        "race",
        "car",
        "circuit racer or buggy",
        95,
        (8, 15),
        6,
        1.5,
        2,
        12,
        60,
        (700, 3400),
        (2, 4),
        1,
        r"buggy|touring|race|racing|truggy",
    ),
    ModelClass(
        "basher",
        "car",
        "basher",
        58,
        (12, 20),
        7.5,
        1.6,
        3,
        15,
        50,
        (200, 6500),
        (2, 6),
        1.1,
        r"bash|short|stadium|monster|small",
    ),
    ModelClass(
        "drag", "car", "drag car", 95, (8, 14), 12, 1.5, 2, 30, 110, (900, 2400), (2, 4), 0.25, r"drag"
    ),
    ModelClass(
        "speed",
        "car",
        "speed-run car",
        150,
        (5, 10),
        6,
        1.5,
        5,
        40,
        100,
        (1800, 6500),
        (3, 12),
        0.25,
        r"speed",
    ),
    ModelClass(
        "crawler",
        "truck",
        "crawler or trail truck",
        11,
        (30, 60),
        6,
        1.6,
        3,
        25,
        35,
        (700, 3500),
        (2, 3),
        1.1,
        r"crawl|trail|rock",
    ),
    ModelClass(
        "lorry",
        "truck",
        "lorry",
        7,
        (35, 75),
        4.2,
        1.5,
        4,
        40,
        30,
        (1800, 9000),
        (2, 3),
        0.8,
        r"lorry|tractor|tipper|articulated",
    ),
    ModelClass(
        "monster",
        "truck",
        "monster or stunt truck",
        45,
        (12, 22),
        7.5,
        1.6,
        3,
        15,
        50,
        (1800, 7000),
        (2, 8),
        0.8,
        r"monster|stunt|bash",
    ),
    ModelClass(
        "tank", "tracked", "tank", 9, (35, 70), 3, 1.4, 8, 60, 30, (1200, 9000), (2, 3), 1, r"tank|panzer"
    ),
    ModelClass(
        "digger",
        "tracked",
        "digger or dozer",
        6,
        (40, 80),
        3.1,
        1.4,
        10,
        60,
        25,
        (3000, 25000),
        (2, 4),
        0.7,
        r"dig|excav|doz|hydraul|snow",
    ),
    ModelClass(
        "tug",
        "boat",
        "tug or working boat",
        6,
        (40, 90),
        3,
        1.5,
        10,
        60,
        20,
        (1500, 15000),
        (2, 4),
        1,
        r"tug|lifeboat|work|traw",
    ),
    ModelClass(
        "launch",
        "boat",
        "launch or scale boat",
        15,
        (25, 60),
        2.7,
        1.4,
        8,
        60,
        30,
        (700, 8000),
        (2, 4),
        1,
        r"launch|scale|cruis|yach",
    ),
    ModelClass(
        "bait",
        "boat",
        "bait boat",
        19,
        (40, 90),
        2.5,
        1.4,
        10,
        60,
        20,
        (2000, 9000),
        (2, 4),
        0.8,
        r"bait|fish",
    ),
    ModelClass(
        "race_boat",
        "boat",
        "race or fast boat",
        255,
        (4, 8),
        2.1,
        1.3,
        10,
        40,
        60,
        (250, 5000),
        (2, 8),
        0.9,
        r"rac|hydro|cat|mono|fast|speed",
    ),
    ModelClass(
        "yacht",
        "boat",
        "sailing yacht (winch and rudder)",
        3,
        (40, 120),
        3.3,
        1.5,
        4,
        30,
        15,
        (800, 12000),
        (1, 2),
        0.5,
        r"sail|yacht",
    ),
)
MODEL_CLASSES: dict[str, ModelClass] = {c.id: c for c in _ROWS}


def classes_of(kind_id: str) -> list[ModelClass]:
    """The classes of a kind, in the order in which they are offered."""
    return [c for c in _ROWS if c.kind == model_kind(kind_id).id]


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
    mass_g: float
    cells: float
    wh_per_kg: float
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
        """A figure of the classes, weighed by how likely each is, by ratio."""
        return math.exp(sum(share * math.log(of(c)) for c, share in self.classes))


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
