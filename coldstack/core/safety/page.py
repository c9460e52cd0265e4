"""The safety page: the usual cautions by when they apply.

Makers' sheets, local codes and licensed practice come first.
"""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.safety import cautions
from coldstack.core.safety.cautions import Caution
from coldstack.core.units import DEG


@dataclass(frozen=True, slots=True)
class SafetySection:
    """Cautions for one moment, in the order in which one needs them."""

    id: str
    title: str
    cautions: tuple[Caution, ...]


BURNING = SafetySection(
    "burning",
    "If a pack hisses, smokes or burns",
    (
        Caution(
            "people_first",
            "People first: everybody out and away from the smoke. It is poisonous; do not breathe it, do "
            "not go back for gear.",
        ),
        Caution("call", "Call the fire service, and say that lithium batteries burn."),
        Caution(
            "let_burn",
            "Let the pack burn itself out where it is contained: in its box, on stone, in sand. It may "
            "flare up again for hours.",
        ),
        Caution(
            "water",
            "Water or a small extinguisher does not reliably stop a pack. Have one near for what else "
            "catches fire, and use it only with a way out behind you.",
        ),
        Caution(
            "no_touch",
            "Do not carry a burning or hissing pack. Cut the mains to the charger if you can do so without "
            "passing it.",
        ),
        Caution("after", "Afterwards leave it outside for a day, and hand in the rest by local rules."),
    ),
)
BEFORE = SafetySection(
    "before",
    "Before charging",
    (
        cautions.ON_THE_BENCH,
        Caution(
            "look",
            "Look, feel and read the cells first: nothing that is swollen, dented, punctured, hot or below "
            "its damage volts is charged.",
        ),
        Caution(
            "setting",
            "The right chemistry and number of cells, each time: a wrong setting is the usual cause of a "
            "fire.",
        ),
        cautions.NEVER_FROZEN,
        Caution("cool", "A pack that was just run cools down first."),
        cautions.LEAD_FIRST,
        cautions.KEEP_POLARITY,
    ),
)
CHARGING = SafetySection(
    "charging",
    "While it charges",
    (
        cautions.STAY_WITH_IT,
        Caution("asleep", "Never charge asleep or away from the house. Stop the charge before you leave."),
        cautions.PARALLEL_ALIKE,
        Caution(
            "balance",
            "Balance every pack of more than one cell: plain charging overcharges the neighbours of a weak "
            "cell.",
        ),
        Caution(
            "timer",
            "Set the charger’s safety timer and its capacity cut-off: they end a charge that does not end "
            "by itself.",
        ),
    ),
)
RUNNING = SafetySection(
    "running",
    "Before and after a run",
    (
        Caution(
            "off",
            "Switch the model off and keep clear of propellers and wheels before you plug the pack in: the "
            "motor may start.",
        ),
        Caution("strap", "Strap the pack, keep its leads clear of what turns, and set the alarm."),
        Caution(
            "crash",
            "After a crash take the pack out, outside, and watch it for half an hour: a dent inside shows "
            "late.",
        ),
        Caution("spent", "Mark a spent pack as spent, so that nobody runs it again."),
    ),
)
KEEPING = SafetySection(
    "keeping",
    "Keeping and carrying",
    (
        Caution(
            "level",
            "Store lithium packs about half charged: full and warm they make gas, empty they are damaged.",
        ),
        Caution(
            "place",
            f"Cool and dry, 5 to 25{DEG}, never above 38{DEG}: not in a car in the sun, an attic or a roof "
            "box.",
        ),
        Caution(
            "box",
            "In a metal box that can vent, or a fire bag, away from what burns and from the way out; a "
            "smoke detector in the room.",
        ),
        Caution(
            "carry",
            "Insulate every plug. On a journey the carrier’s rules decide how many packs go, where, and how.",
        ),
        cautions.BUILD_FROM_CELLS,
    ),
)
RETIRING = SafetySection(
    "retiring",
    "When a pack is done",
    (
        cautions.UNFIT,
        Caution(
            "zero",
            "A pack found at zero: some put it on charge at a low rate and hope. We advise against it: "
            "copper dissolved at zero volts can short the cell later.",
        ),
        Caution(
            "drain",
            "Outside, through a lamp or a resistor, slowly to nothing; each pack’s page works out which. "
            "Then insulate the leads.",
        ),
        Caution("hand_in", "Hand it in by local rules. Never into a bin, never punctured, never charged."),
    ),
)
SAFETY: tuple[SafetySection, ...] = (BURNING, BEFORE, CHARGING, RUNNING, KEEPING, RETIRING)
