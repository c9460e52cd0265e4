"""Every house rule: within which limits it may be set, why it exists, who does otherwise, and what follows
it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.units import DEG

Group = Literal["run", "charge", "store", "health"]
RuleKind = Literal["c_rate", "cell_voltage", "percent", "hours", "days", "minutes", "times", "temperature"]


@dataclass(frozen=True, slots=True)
class Rule:
    """One rule; ``id`` is its field of `HouseRules`.

    ``low`` and ``high`` are what a label, a chemistry or a caution leaves open.
    """

    id: str
    group: Group
    name: str
    kind: RuleKind
    low: float
    high: float
    step: float
    why: str
    who_differs: str
    follows: str


RULES: tuple[Rule, ...] = (
    Rule(
        "usable_share",
        "run",
        "Use at most",
        "percent",
        0.40,
        0.90,
        0.01,
        "The last fifth is worked hardest, and the volts fall away quickly in it.",
        "Gentle owners stop at 70 %, racers go to 90 % and replace packs sooner; some go by volts alone.",
        "minutes, timer, mAh, capacity to buy",
    ),
    Rule(
        "landing_rest_v",
        "run",
        "Land before, at rest",
        "cell_voltage",
        3.50,
        3.85,
        0.01,
        "A resting cell tells its charge; this guards a pack that began less than full. The earlier of "
        "this and the share counts.",
        "Some teach 3.8 V and no lower, some 3.5 V.",
        "minutes, timer, mAh",
    ),
    Rule(
        "alarm_loaded_v",
        "run",
        "Alarm, under load",
        "cell_voltage",
        3.10,
        3.80,
        0.05,
        "Loaded volts sag below resting ones: the alarm sits lower than the landing, and catches what a "
        "timer cannot know.",
        "From 3.3 V for those who run to the alarm, to 3.5 V for those who want a reserve when it sounds.",
        "alarm setting",
    ),
    Rule(
        "cutoff_loaded_v",
        "run",
        "Controller’s cut-off",
        "cell_voltage",
        3.00,
        3.50,
        0.05,
        "The last guard of a pack that was forgotten; 3.0 V is where damage begins.",
        "Pilots set it low, so that no motor stops in the air; drivers set it high.",
        "cut-off setting, minutes of a pack that sags to it",
    ),
    Rule(
        "cold_run_c",
        "run",
        "Warm a pack colder than",
        "temperature",
        0.0,
        25.0,
        1.0,
        "A cold pack resists more and sags early, as if it had aged.",
        f"Some fly at freezing with packs from a pocket, some wait for 15{DEG}.",
        "go or no go",
    ),
    Rule(
        "hot_run_c",
        "run",
        "Let a pack cool that is hotter than",
        "temperature",
        35.0,
        50.0,
        1.0,
        "Left in a car or just charged fast in the sun, it begins its run where others land, and ends it "
        "too hot.",
        "Racers start warm on purpose, for the lower resistance; most stop at what the hand can bear.",
        "go or no go",
    ),
    Rule(
        "punch_least",
        "run",
        "Fly with at least, of today’s full-stick watts",
        "percent",
        0.50,
        0.90,
        0.05,
        "A cell fewer takes a third to a half of a propeller’s watts: it may not get off the ground, or out "
        "of a dive.",
        "Gliders that are thrown by hand bear less; on wheels and on water it is only slower.",
        "what does the job, go or no go",
    ),
    Rule(
        "heavier_most",
        "run",
        "Fly heavier than today by at most, all up",
        "percent",
        0.05,
        0.25,
        0.01,
        "The wing has to carry it, and stalls faster: a much heavier pack makes a different aeroplane.",
        "Lifters and long-range models are built for it; thermal gliders notice a twentieth.",
        "what does the job, go or no go",
    ),
    Rule(
        "kit_h",
        "run",
        "Trust a field kit for",
        "hours",
        1.0,
        48.0,
        1.0,
        "What a phone took along knows nothing of what was done since: a day’s runs and charges make it old.",
        "The strict take it anew each morning; on a weekend without a line some live with two days.",
        "go or no go without a line",
    ),
    Rule(
        "charge_c_limit",
        "charge",
        "Charge at most at",
        "c_rate",
        0.2,
        5.0,
        0.1,
        "Amps heat a cell by their square; 1C is gentle on any pack. The label’s own charge rate always "
        "limits as well.",
        "On a field day people charge at 2C or 3C where the label allows it; the careful never do.",
        "charge amps and minutes, the day",
    ),
    Rule(
        "full_cell_v",
        "charge",
        "Call it full at",
        "cell_voltage",
        4.00,
        4.20,
        0.01,
        "The last tenth of a volt ages a cell most. Above 4.20 V a LiPo is overcharged, whatever the rules.",
        "Most charge to 4.20 V; for a long life some stop at 4.15 V or 4.10 V.",
        "end volts, charge minutes, minutes of a run",
    ),
    Rule(
        "parallel_spread_v",
        "charge",
        "Join in parallel within",
        "cell_voltage",
        0.005,
        0.10,
        0.005,
        "The fuller pack rushes into the emptier one through thin wires; the rush is computed as well.",
        "From 0.02 V a cell for the careful to 0.1 V for the hurried; some never join packs.",
        "batches",
    ),
    Rule(
        "cool_min",
        "charge",
        "Let a warm pack cool for",
        "minutes",
        5.0,
        240.0,
        5.0,
        "A pack is warmest just after use, inside more than outside.",
        "Some go by the hand alone, some wait an hour.",
        "the bench’s plan, the day",
    ),
    Rule(
        "storage_within_h",
        "store",
        "To storage within",
        "hours",
        1.0,
        336.0,
        1.0,
        "Full or empty, and warmer still, a cell loses capacity and makes gas.",
        "The strict say the same evening, the relaxed a week.",
        "due dates, the calendar file",
    ),
    Rule(
        "liion_storage_times",
        "store",
        "Li-ion may wait",
        "times",
        1.0,
        4.0,
        0.5,
        "Cylindrical cells age more slowly when full.",
        "Some treat all alike.",
        "due dates",
    ),
    Rule(
        "read_again_days",
        "store",
        "Read a stored pack again after",
        "days",
        14.0,
        365.0,
        1.0,
        "A cell that leaks shows by its volts before it is driven empty.",
        "Some look every month, some in spring.",
        "due dates",
    ),
    Rule(
        "cell_watch",
        "health",
        "Watch a cell above its neighbours’",
        "times",
        1.05,
        1.9,
        0.05,
        "Cells of one pack age alike; the one that resists more is the weak one.",
        "Meters scatter by a tenth: a stricter limit accuses good packs.",
        "verdicts",
    ),
    Rule(
        "cell_bad",
        "health",
        "Retire for a cell above its neighbours’",
        "times",
        1.1,
        2.0,
        0.05,
        "The weak cell is driven empty first and overcharged first.",
        "Some keep such a pack for the bench.",
        "verdicts, go or no go",
    ),
    Rule(
        "growth_watch",
        "health",
        "Watch resistance above its first",
        "times",
        1.1,
        2.9,
        0.1,
        "Resistance grows with age; the pack’s own first readings are the only fair measure.",
        "Some go by minutes alone.",
        "verdicts",
    ),
    Rule(
        "growth_bad",
        "health",
        "Light duty above its first",
        "times",
        1.2,
        3.0,
        0.1,
        "At twice the resistance it makes twice the heat and half the honest C.",
        "Racers retire earlier, cruisers later.",
        "verdicts, go or no go",
    ),
    Rule(
        "spread_watch_v",
        "health",
        "Watch cells apart by",
        "cell_voltage",
        0.005,
        0.045,
        0.005,
        "A few thousandths are normal; more says that one cell holds less or leaks.",
        "Some watch from 0.01 V.",
        "verdicts, inspection, go or no go",
    ),
    Rule(
        "spread_act_v",
        "health",
        "Act on cells apart by",
        "cell_voltage",
        0.01,
        0.05,
        0.005,
        "The low cell would be driven empty, the high one overcharged. No set may be laxer than 0.05 V.",
        "Some act at 0.03 V.",
        "verdicts, inspection, batches, go or no go",
    ),
    Rule(
        "capacity_watch",
        "health",
        "Watch below, of the label",
        "percent",
        0.65,
        0.98,
        0.01,
        "A sound pack gives back at least nine tenths of its label.",
        "Labels flatter: some measure against the first charge.",
        "verdicts",
    ),
    Rule(
        "capacity_end",
        "health",
        "End of flying below",
        "percent",
        0.60,
        0.95,
        0.01,
        "Below four fifths the rest goes quickly.",
        "Some use a pack on the ground down to 70 %.",
        "verdicts, cycles left",
    ),
    Rule(
        "minutes_watch",
        "health",
        "Watch minutes below, of the first",
        "percent",
        0.65,
        0.98,
        0.01,
        "Fewer minutes in the same use are what people notice first.",
        "Wind and mood change minutes as well.",
        "verdicts",
    ),
    Rule(
        "minutes_act",
        "health",
        "Light duty below, of the first minutes",
        "percent",
        0.60,
        0.95,
        0.01,
        "When 12 minutes became 9 the pack has lost its reserve.",
        "Some go on with a shorter timer.",
        "verdicts",
    ),
    Rule(
        "balance_watch_min",
        "health",
        "Watch balancing longer than",
        "minutes",
        3.0,
        58.0,
        1.0,
        "A pack whose cells drift apart balances ever longer.",
        "Small balancers take longer with big packs.",
        "verdicts",
    ),
    Rule(
        "balance_act_min",
        "health",
        "Act on balancing longer than",
        "minutes",
        4.0,
        60.0,
        1.0,
        "A quarter of an hour says that one cell does not follow.",
        "Some stop there and charge on the next day.",
        "verdicts",
    ),
)
BY_ID = {r.id: r for r in RULES}


@dataclass(frozen=True, slots=True)
class Fixed:
    """What no set of rules changes, why, and who differs."""

    name: str
    why: str
    who_differs: str


FIXED: tuple[Fixed, ...] = (
    Fixed(
        "Every pack of more than one cell is balanced, at each charge.",
        "Plain charging overcharges the neighbours of a weak cell: this is how fires start.",
        "A minority balances every fifth to eighth charge.",
    ),
    Fixed(
        "A maker’s label limits amps and volts.",
        "Only the maker has tested the cells.",
        "Some trust their own measurements more.",
    ),
    Fixed(
        "A chemistry ends at its own volts: LiPo at 4.20 V, LiHV at 4.35 V.",
        "More is an overcharge, and the cell does not come back from it.",
        "Cells made for higher volts have their own setting.",
    ),
    Fixed(
        "Unequal packs are never joined: other cells, another count, swollen, unread.",
        "Only thin wires limit the rush between them.",
        "Some join by eye; some never join at all.",
    ),
    Fixed(
        "No pack is charged below freezing, hot, or damaged; a cell that rested below its damage volts "
        "retires the pack.",
        "Metal grows inside, and shorts it later.",
        "Some revive such packs slowly and hope.",
    ),
)
