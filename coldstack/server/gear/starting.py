"""A first job for a new model: typical figures of its kind, to be replaced by its owner's."""

from __future__ import annotations

from coldstack.core.draw.motion import motion_of
from coldstack.core.sizing.starting import STARTING
from coldstack.server.sizing.schemas import DrawIn, ElectronicsIn, JobIn, WantsIn


def starting_job(motion_id: str, name: str) -> JobIn:
    """The job of a typical model that moves so; raises DomainError for an unknown motion."""
    motion = motion_of(motion_id)
    start = STARTING[motion.id]
    return JobIn(
        name=name[:80] or "model",
        motion=motion.id,
        mass_g=start.mass_g,
        draw=DrawIn(
            source="estimate",
            source_note=f"typical for {motion.name}",
            average_a=start.average_a,
            peak_a=start.peak_a,
            peak_s=5,
            peak_every_s=60,
            reference_voltage_v=start.voltage_v,
            reference_mass_g=start.mass_g * 1.25,
            spread=0.25,
        ),
        wants=WantsIn(minutes=start.minutes, chemistries=["lipo"]),
        electronics=ElectronicsIn(
            max_v=start.cells * 4.2,
            rated_cells=start.cells,
            controller_continuous_a=start.peak_a * 1.25,
        ),
    )
