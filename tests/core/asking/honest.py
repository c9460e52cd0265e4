"""Honest models, drawn at random: each as its class lets one expect, spread wider than the core believes."""

from __future__ import annotations

import math
import random

from coldstack.core.describing.answers import Answers, GoalAnswers, LimitAnswers, UsageAnswers
from coldstack.core.describing.model_classes import MODEL_CLASSES, ModelClass
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.trial.job import RunsOn

SOLD_AH = (0.15, 0.22, 0.3, 0.45, 0.5, 0.65, 0.85, 1.0, 1.3, 1.5, 1.8, 2.2, 2.6, 3.0, 3.3, 4.0, 5.0, 6.0, 8.0)
SOLD_AH += (10.0, 12.0, 16.0, 22.0, 30.0)
PRINTED_C = (10, 15, 20, 25, 30, 35, 40, 45, 50, 60, 65, 75, 90, 95, 100, 120, 130, 150)


def nearest(value: float, sold: tuple[float, ...]) -> float:
    """What is sold, by ratio."""
    return min(sold, key=lambda x: abs(math.log(x / value)))


def honest(draw: random.Random, c: ModelClass | None = None) -> Answers:
    """A model, and what its owner knows of it: each figure true within its meter, some not told."""
    c = c or draw.choice(list(MODEL_CLASSES.values()))

    def off(sigma: float) -> float:
        return math.exp(draw.gauss(0, sigma))

    def told(value: float, share: float = 0.5, digits: int = 1) -> float | None:
        return round(value, digits) if draw.random() < share else None

    mass = math.exp(draw.uniform(*map(math.log, c.mass_g))) * off(0.2)
    cells, minutes = draw.randint(*c.cells), c.usual_minutes * off(0.35)
    volts = 3.7 * cells
    ah = nearest(c.w_per_kg * off(0.4) * 1.25 * mass / 1000 * minutes / 60 / (0.8 * volts), SOLD_AH)
    label = nearest(c.label_c * off(0.5), PRINTED_C)
    pack_g = typical_mass_g("lipo", cells, ah, label) * off(0.12)
    runs = minutes * off(0.1)
    average = 0.8 * ah * 60 / runs
    many = 4 if c.kind == "multirotor" else 1
    share = min(1.05, max(0.3, draw.gauss(0.78, 0.1)))
    run = told(runs * off(0.1), 0.6)
    return Answers(
        name="One of ours",
        kind=c.kind,
        mass_g=max(1, round(mass)),
        now=RunsOn("lipo", cells, ah, round(pack_g, 1), label if draw.random() < 0.7 else None),
        now_mass_told=draw.random() < 0.5,
        model_class=c.id if draw.random() < 0.3 else None,
        usage=UsageAnswers(
            minutes=run,
            put_back_mah=told(1000 * ah * share, 0.3, 0) if run else None,
            average_a=told(average * off(0.08), 0.3, 2),
            peak_a=told(average * c.peak_ratio * off(0.4), 0.25, 2),
        ),
        limits=LimitAnswers(
            controller_a=told(max(1.0, average * c.peak_ratio * draw.uniform(1, 2.5) / many), 0.4, 0),
            motor_kv=told(draw.uniform(6000, 40_000) / volts, 0.3, 0),
        ),
        goals=GoalAnswers(
            minutes=told(runs * off(0.35), 0.4), mass_g=told(pack_g * draw.uniform(0.9, 1.5), 0.3, 0)
        ),
    )
