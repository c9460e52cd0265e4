"""The checks of sizing, each as a column over all candidates: what is compared with what, and where the limit comes from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.chemistry import chemistry_column
from coldstack.core.cells.resistance import BURST_DURATION_S
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import BURST_FACTOR as WIRE_BURST_FACTOR
from coldstack.core.chain.wire import wire_continuous_a
from coldstack.core.checks import CAUTION_FROM, Check, asked, check_at_least, check_at_most
from coldstack.core.discharge.batch import Discharge, Ending, Floats
from coldstack.core.draw.scaling import mass_factor
from coldstack.core.sizing.candidates import Bools, Candidates
from coldstack.core.sizing.job import BAY_CLEARANCE_MM, Job
from coldstack.core.units import plain_number as n_words
from coldstack.core.working import Step

HOTTEST_CELL_C = 60.0
WARM_CELL_C = 50.0
NEVER = 1.0001
"""For limits that are met or not: being near one is no cause for caution."""


@dataclass(frozen=True, slots=True)
class CheckColumn:
    """One rule for N candidates: value and limit, shape (N,), and which way it holds.

    ``required``: a candidate over this limit is not feasible. ``link``: the chain link it belongs to, if any.
    ``assumed``: for which candidates nobody gave the limit; there it refuses nothing, and asks ``question``.
    """

    id: str
    title: str
    unit: str
    value: Floats
    limit: Floats
    at_most: bool
    source: str
    required: bool = True
    link: str = ""
    caution_from: float = CAUTION_FROM
    assumed: Bools | None = None
    question: str = ""

    @property
    def counts(self) -> Bools:
        """For which candidates being over the limit rules them out, shape (N,)."""
        return self.known & self.required

    @property
    def known(self) -> Bools:
        """For which candidates somebody gave the limit, shape (N,)."""
        return np.ones(len(self.value), bool) if self.assumed is None else ~self.assumed

    @property
    def is_link(self) -> bool:
        """Whether the check speaks of a link of the chain."""
        return bool(self.link)

    @property
    def loading(self) -> Floats:
        """Value over limit, or limit over value: above 1 is bad. NaN where one is missing."""
        with np.errstate(divide="ignore", invalid="ignore"):
            ratio = self.value / self.limit if self.at_most else self.limit / self.value
        bad = np.isinf(ratio) | ((self.limit <= 0) & self.at_most & (self.value > 0))
        return np.where(bad, np.inf, ratio)

    def check(self, row: int, steps: tuple[Step, ...] = ()) -> Check:
        """The check of one candidate, with its sentence and working."""
        make = check_at_most if self.at_most else check_at_least
        made = make(
            self.id,
            self.title,
            value=float(self.value[row]),
            limit=float(self.limit[row]),
            unit=self.unit,
            limit_source=self.source,
            caution_from=self.caution_from,
            steps=steps,
        )
        return made if self.known[row] else asked(made, self.question)


def want_columns(
    job: Job, c: Candidates, d: Discharge, *, landing_ah: Floats, lively: Floats
) -> list[CheckColumn]:
    """Minutes, mass, liveliness, volts or rpm, room and balance, and the electronics' window.

    ``landing_ah`` is the charge from the start to the landing point [Ah], ``lively`` from
    `liveliness`; shape (N,).
    """
    whole = np.isin(d.ending, (int(Ending.REACHED_LANDING), int(Ending.RAN_TOO_LONG)))
    given_ah = np.where(whole, landing_ah, d.used_ah)
    n, wants, e = len(c), job.wants, job.electronics
    full = chemistry_column("full_v")[c.chemistry_index]
    rated = f"rated for {e.rated_cells} LiPo cells" if e.rated_cells else "as given"
    wanted = "wanted"
    guessed = np.full(n, job.is_assumed("electronics.max_v"))
    window = (
        f"{n_words(e.max_v)} V assumed, what it runs on now: {{loading}}; what is the controller rated for?"
    )
    full_charge = CheckColumn(
        "window.full",
        "Volts fresh off the charger",
        "V",
        np.round(full * c.series, 6),
        _all(n, e.max_v),
        True,
        f"controller, {rated}",
        caution_from=NEVER,
        assumed=guessed,
        question=window,
    )
    columns = [
        full_charge,
        CheckColumn("window.landing", "Lowest volts under load", "V", d.lowest_voltage_v, _all(n, e.min_v), False, "controller’s lowest volts", caution_from=NEVER),
        CheckColumn("run.delivers", "Charge given before the controller stops", "Ah", given_ah, landing_ah, False, "landing point of the house rules", caution_from=NEVER),
    ]  # fmt: skip
    columns += [*_drive_columns(job, c, d), *_lively_columns(job, lively)]
    if wants.minutes:
        columns.append(CheckColumn("want.minutes", "Minutes", "min", d.duration_s / 60, _all(n, wants.minutes), False, wanted, caution_from=NEVER))  # fmt: skip
    if wants.mass_g:
        columns.append(
            CheckColumn(
                "want.mass",
                "Mass of the pack",
                "g",
                c.mass_g,
                _all(n, wants.mass_g),
                True,
                wanted,
                caution_from=NEVER,
                assumed=c.mass_assumed,
                question="Its mass is assumed: {loading} of the heaviest wanted; what does it weigh?",
            )
        )
    if wants.volts:
        columns.append(CheckColumn("want.volts", "Mean volts under load", "V", d.mean_voltage_v, _all(n, wants.volts), False, wanted, caution_from=NEVER))  # fmt: skip
    if wants.rpm and e.motor_kv:
        columns.append(CheckColumn("want.rpm", "Motor speed without load loss", "rpm", d.mean_voltage_v * e.motor_kv, _all(n, wants.rpm), False, wanted, caution_from=NEVER))  # fmt: skip
    return columns + _room_columns(job, c)


def _drive_columns(job: Job, c: Candidates, d: Discharge) -> list[CheckColumn]:
    """With the same propeller or gearing: whether full stick still gives the watts that the gentle part needs."""
    duty, k = job.duty, job.motion.throttle_exponent
    steady = [p.current_a for p in duty.phases if p.hold == "power"]
    stick = [p.current_a for p in duty.phases if p.hold == "throttle"]
    if job.drive != "same" or not steady or not stick:
        return []
    factor = mass_factor(job.mass_g + c.mass_g, reference_mass_g=duty.reference_mass_g, motion=job.motion)  # fmt: skip
    need_w = max(steady) * duty.reference_voltage_v * factor
    ratio = d.mean_voltage_v / duty.stick_voltage_v
    full_stick_w = max(stick) * duty.stick_voltage_v * ratio ** (k + 1)
    return [CheckColumn("drive.watts", "Full-stick watts on this pack", "W", full_stick_w, need_w, False, "watts of the gentle part, at this mass", caution_from=NEVER)]  # fmt: skip


def _lively_columns(job: Job, lively: Floats) -> list[CheckColumn]:
    if job.drive != "same" or not job.wants.lively:
        return []
    source = "full-stick watts on what it runs on now"
    limit = _all(len(lively), 100 * job.wants.lively)
    return [
        CheckColumn(
            "want.lively",
            "Full-stick watts, of today’s",
            "%",
            100 * lively,
            limit,
            False,
            source,
            caution_from=NEVER,
        )
    ]


def _room_columns(job: Job, c: Candidates) -> list[CheckColumn]:
    bay, n, columns = job.bay, len(c), []
    source = f"bay less {BAY_CLEARANCE_MM:g} mm a side"
    width, height = c.width_mm, c.height_mm
    if bay.width_mm and bay.height_mm:
        # a pack may lie on its side: its wider side goes along the bay's wider side
        wide, thin = np.maximum(width, height), np.minimum(width, height)
        width, height = (wide, thin) if bay.width_mm >= bay.height_mm else (thin, wide)
    for key, title, size, room in (
        ("length", "Length", c.length_mm, bay.length_mm),
        ("width", "Width", width, bay.width_mm),
        ("height", "Height", height, bay.height_mm),
    ):
        if room:
            inside = max(room - 2 * BAY_CLEARANCE_MM, 0.0)
            columns.append(CheckColumn(f"bay.{key}", f"{title} in the bay", "mm", size, _all(n, inside), True, source, caution_from=NEVER))  # fmt: skip
    if None not in (bay.balance_at_mm, bay.empty_balance_mm, bay.centre_mm) and bay.length_mm:
        where = pack_position_mm(job, c.mass_g)
        slack = np.maximum((bay.length_mm - c.length_mm) / 2, 0.0)
        off = np.abs(where - (bay.centre_mm or 0.0))
        columns.append(CheckColumn("bay.balance", "Pack off the bay’s middle, to balance", "mm", off, slack, True, "room to slide in the bay", required=False))  # fmt: skip
    return columns


def pack_position_mm(job: Job, mass_g: Floats) -> Floats:
    """Where the pack's middle must lie for the model to balance: ``(x_cg·m_total − x_0·m_0) ÷ m_pack``. [mm]"""
    bay = job.bay
    if bay.balance_at_mm is None or bay.empty_balance_mm is None:
        return np.full(len(mass_g), np.nan)
    total = job.mass_g + mass_g
    return np.asarray((bay.balance_at_mm * total - bay.empty_balance_mm * job.mass_g) / mass_g)


@dataclass(frozen=True, slots=True)
class _Part:
    """One of the things that limit a link: amps continuous and in bursts, and for which candidates
    nobody gave them."""

    continuous_a: Floats
    burst_a: Floats
    assumed: Bools


def link_columns(job: Job, c: Candidates, d: Discharge) -> list[CheckColumn]:
    """The chain from cells to motor: continuous limit against RMS amps, burst limit against the peak; the
    cells' heat.

    Of several controllers or motors the amps of one are compared with the rating of one.
    """
    e, n = job.electronics, len(c)
    plug = plug_family(e.plug)
    wire_a = wire_continuous_a(e.lead_awg)
    brief = job.duty.longest_peak_s <= BURST_DURATION_S
    given, guessed = np.zeros(n, bool), np.ones(n, bool)
    columns: list[CheckColumn] = []

    def link(
        key: str, title: str, parts: list[_Part], source: str, question: str = "", sharing: int = 1
    ) -> None:
        peak_tail = "burst limit" if brief else "continuous limit, since the peak lasts over 10 s"
        for tail, words, amps, limits, why in (
            ("continuous", "continuous", d.rms_current_a, [p.continuous_a for p in parts], source),
            (
                "burst",
                "at the peak",
                d.peak_current_a,
                [p.burst_a if brief else p.continuous_a for p in parts],
                f"{source}, {peak_tail}",
            ),
        ):
            value = amps / sharing
            limit, assumed = _least(value, limits, [p.assumed for p in parts])
            asks = question
            if tail == "burst" and (unsure := peak_question(job)):
                # a peak that nobody gave says nothing against a limit, whoever gave that
                assumed, asks = guessed, unsure
            columns.append(
                CheckColumn(
                    f"{key}.{tail}",
                    f"{title}, {words}",
                    "A",
                    value,
                    limit,
                    True,
                    why,
                    link=key,
                    assumed=assumed,
                    question=asks,
                )
            )

    def wire(continuous_a: Floats, assumed: Bools) -> _Part:
        return _Part(continuous_a, continuous_a * WIRE_BURST_FACTOR, assumed)

    def rated(name: str, continuous: float | None, burst: float | None) -> list[_Part]:
        assumed = guessed if job.is_assumed(f"electronics.{name}_continuous_a") else given
        return [_Part(_or_nan(n, continuous), _burst(n, continuous, burst), assumed)]

    link("cells", "Cells", [_Part(c.continuous_a, c.burst_a, given)], "measured, or label as trusted")
    model_leads = guessed if job.is_assumed("electronics.lead_awg") else given
    link(
        "leads",
        "Leads",
        [wire(c.lead_continuous_a, c.leads_assumed), wire(_all(n, wire_a), model_leads)],
        "copper wire, 60 K warmer than still air",
        f"{e.lead_awg:g} AWG assumed: {{loading}}; what are your leads?",
    )
    model_plug = guessed if job.is_assumed("electronics.plug") else given
    plugs = [
        _Part(c.plug_continuous_a, c.plug_burst_a, c.plug_assumed),
        _Part(_all(n, plug.continuous_a), _all(n, plug.burst_a), model_plug),
    ]
    link(
        "plug",
        "Plug",
        plugs,
        "typical for the family",
        f"{plug.name} assumed: {{loading}}; what is your plug?",
    )
    controller = n_words(e.controller_continuous_a or 0.0)
    link(
        "controller",
        of_several("Controller", e.sharing("controller")),
        rated("controller", e.controller_continuous_a, e.controller_burst_a),
        "maker’s figure",
        f"{controller} A assumed: {{loading}}; what is your controller rated for?",
        e.sharing("controller"),
    )
    if e.motor_continuous_a is not None or e.motor_burst_a is not None:
        link(
            "motor",
            of_several("Motor", e.sharing("motor")),
            rated("motor", e.motor_continuous_a, e.motor_burst_a),
            "maker’s figure",
            "Motor assumed: {loading}; what is yours rated for?",
            e.sharing("motor"),
        )
    columns.append(CheckColumn("cells.temperature", "Cells when landing", "°C", d.end_temperature_c, _all(n, HOTTEST_CELL_C), True, "60 °C, beyond which lithium cells age fast", link="cells", caution_from=WARM_CELL_C / HOTTEST_CELL_C))  # fmt: skip
    return columns


def peak_question(job: Job) -> str:
    """What to ask at a limit that the peak would pass, where nobody gave the peak; empty where
    somebody did."""
    if not job.is_assumed("draw.peak_a"):
        return ""
    return f"A peak of {n_words(job.duty.peak_current_a)} A is assumed: {{loading}}; what is it really?"


def _least(value: Floats, limits: list[Floats], assumed: list[Bools]) -> tuple[Floats, Bools]:
    """The limit that counts for each candidate, and whether nobody gave it.

    The least of those given, where the value is over it; else the least of all, for what is assumed
    may be less.
    """
    known = np.min([np.where(a, np.inf, x) for x, a in zip(limits, assumed, strict=True)], axis=0)
    least = np.min(limits, axis=0)
    refused = value > known
    return np.where(refused, known, least), ~refused & (least < known)


def of_several(name: str, count: int) -> str:
    """The name of one link of several alike."""
    return f"{name}, each of {count}" if count > 1 else name


def _all(n: int, value: float) -> Floats:
    return np.full(n, float(value))


def _or_nan(n: int, value: float | None) -> Floats:
    return np.full(n, np.nan if value is None else float(value))


def _burst(n: int, continuous: float | None, burst: float | None) -> Floats:
    return _or_nan(n, burst if burst is not None else continuous)
