"""Plain-word cautions, each tied to the thing it applies to. The screens show them at that place."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.units import DEG


@dataclass(frozen=True, slots=True)
class Caution:
    """What to mind, and why."""

    id: str
    sentence: str


BUILD_FROM_CELLS = Caution(
    "build_from_cells",
    "Welding, fusing and insulating loose cells is for people trained and equipped for it: a short inside "
    "a pack cannot be "
    "switched off. Buy it made, or have it made.",
)
PARALLEL_PAIR = Caution(
    "parallel_pair",
    "Join two packs in parallel only if they are the same make, age and cell count and rest within the "
    "house rule’s volts of "
    "each other: the fuller one rushes into the emptier one.",
)
SERIES_PAIR = Caution(
    "series_pair",
    "Two packs in series must be of the same make, age and state: the weaker one is driven empty first. "
    "Charge and read each "
    "on its own.",
)
NO_CUTOFF = Caution(
    "no_cutoff",
    "This controller does not stop by itself when a lithium pack runs down. Fit an alarm on the balance "
    "lead, and stop when it sounds.",
)
ADVICE = Caution(
    "advice",
    "Cold Stack advises. Makers’ data sheets, local codes and licensed practice come first.",
)

ONE_WIRE = Caution(
    "one_wire",
    "Cut and solder one wire at a time, and insulate it before touching the other: a pack cannot be "
    "switched off.",
)
KEEP_POLARITY = Caution(
    "keep_polarity",
    "Plus must stay plus: check with a meter before anything is connected. The half on the pack’s side "
    "must leave no bare pin live.",
)
STAY_WITH_IT = Caution(
    "stay_with_it",
    "Stay with a charging pack, awake, on a surface that does not burn. Touch it every few minutes; if it "
    "warms or swells, or a cell does not follow, stop.",
)
LEAD_FIRST = Caution(
    "lead_first",
    "Plug the charge lead into the charger first, then the pack: bare bananas on a live pack short out.",
)
NEVER_FROZEN = Caution(
    "never_frozen", f"Do not charge a pack that is below 0{DEG}, damaged, swollen or still warm from use."
)
LIHV_SETTING = Caution(
    "lihv_setting",
    "LiHV needs its own setting. On the LiPo setting it only stops short; a LiPo pack on the LiHV setting "
    "is overcharged.",
)
NIMH_WARMS = Caution(
    "nimh_warms",
    "NiMH warms at the end: that is how its full is found. Below half C the peak may be missed: watch the "
    "timer.",
)
UNFIT = Caution(
    "unfit", "This pack is marked unfit: it is neither charged nor run. Its page says how to retire it."
)
ON_THE_BENCH = Caution(
    "on_the_bench",
    "Charge on a surface that does not burn, in a fire-resistant bag or vented box, away from what burns, "
    "with a smoke detector and a way out.",
)
NEVER_ALONE = Caution(
    "never_alone",
    "Never charge unattended or asleep. If a pack burns: people first, get out, let it burn itself out, do "
    "not breathe the smoke, call the fire service.",
)
PARALLEL_ALIKE = Caution(
    "parallel_alike",
    "Join only packs that passed, of one chemistry and cell count, and read them again just before: the "
    "fuller one rushes into the emptier one.",
)
BEFORE_RUN = Caution(
    "before_run",
    "Switch off before you plug in, plus to plus; strap the pack, keep its leads clear of what turns, set "
    "the alarm.",
)
AFTER_RUN = Caution(
    "after_run",
    "Let it cool before it is charged. After a crash take it out, and watch it outside for half an hour.",
)
RUN_CAUTIONS = (BEFORE_RUN, AFTER_RUN)
BENCH_CAUTIONS = (ON_THE_BENCH, NEVER_ALONE, PARALLEL_ALIKE)
BY_CHEMISTRY: dict[str, tuple[Caution, ...]] = {"lihv": (LIHV_SETTING,), "nimh": (NIMH_WARMS,)}
"""What to mind when such cells are charged, beside what holds for all."""
