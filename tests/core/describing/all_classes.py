"""The models of every class as data: true draw and an expert's answer, written down before anything was
computed (tests/data/models-of-all-classes.csv), told in part or whole."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from pathlib import Path

from coldstack.core.describing.answers import Answers, GoalAnswers, LimitAnswers, UsageAnswers
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.packs.typical import typical_cells, typical_packs
from coldstack.core.sizing.plan import Stock
from coldstack.core.trial.job import RunsOn

FILE = Path(__file__).parents[2] / "data" / "models-of-all-classes.csv"
STOCK = Stock(typical_packs(), typical_cells())
FACTS = ("label", "grams", "class", "controller", "plug", "minutes", "amps", "peak", "cells")


@dataclass(frozen=True)
class RunContext:
    """One model with its truth, and what an expert would say."""

    name: str
    kind: str
    model_class: str
    mass_g: float
    rotors: int | None
    now: RunsOn
    minutes: float
    average_a: float
    peak_a: float
    peak_s: float
    controllers: int
    controller_a: float
    cells: int
    mah: tuple[float, float]
    least_label_c: float | None
    plugs: tuple[str, ...]
    refuse: tuple[str, ...]

    def told(self, *facts: str, goals: bool = True, chosen_name: str = "") -> Answers:
        """Its owner's answers, of which only these facts are told."""
        now, grams = self.now, self.now.mass_g
        label_c = now.label_c if "label" in facts else None
        if "grams" not in facts:
            grams = typical_mass_g(now.chemistry, now.series, now.capacity_ah, label_c)
        has = {f: f in facts for f in FACTS}
        return Answers(
            chosen_name,
            self.kind,
            self.mass_g,
            RunsOn(now.chemistry, now.series, now.capacity_ah, grams, label_c, joined=now.joined),
            now_mass_told=has["grams"],
            model_class=self.model_class if has["class"] else None,
            rotors=self.rotors,
            usage=UsageAnswers(
                minutes=self.minutes if has["minutes"] else None,
                average_a=self.average_a if has["amps"] else None,
                peak_a=self.peak_a if has["peak"] else None,
                peak_s=self.peak_s if has["peak"] else None,
            ),
            limits=LimitAnswers(
                controller_a=self.controller_a if has["controller"] else None,
                controllers=self.controllers if has["controller"] else None,
                plug=self.plugs[0] if has["plug"] else None,
                cells_max=now.series if has["cells"] and now.chemistry == "lipo" else None,
            ),
            goals=GoalAnswers(minutes=self.minutes if goals else None),
        )


def all_classes() -> list[RunContext]:
    """Every model of the file."""
    with FILE.open(encoding="utf-8") as rows:
        return [_known(r) for r in csv.DictReader(rows)]


def _known(r: dict[str, str]) -> RunContext:
    label_c = float(r["label_c"]) if r["label_c"] else None
    ah = float(r["capacity_mah"]) / 1000
    return RunContext(
        name=r["name"],
        kind=r["kind"],
        model_class=r["class"],
        mass_g=float(r["mass_g"]),
        rotors=int(r["rotors"]) if r["rotors"] else None,
        now=RunsOn(
            r["chemistry"], int(r["series"]), ah, float(r["pack_g"]), label_c, joined=r["joined"] or ""
        ),
        minutes=float(r["minutes"]),
        average_a=float(r["average_a"]),
        peak_a=float(r["peak_a"]),
        peak_s=float(r["peak_s"]),
        controllers=int(r["controllers"]),
        controller_a=float(r["controller_a"]),
        cells=int(r["cells"]),
        mah=(float(r["least_mah"]), float(r["most_mah"])),
        least_label_c=float(r["least_label_c"]) if r["least_label_c"] else None,
        plugs=tuple(r["plugs"].split()),
        refuse=tuple(x for x in r["refuse"].split(";") if x),
    )
