"""One plug for all: what is to be soldered, which adapters fall away, where it would be over, who cannot."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.cooling import plug_rise_k
from coldstack.core.chain.plugs import PlugFamily, plug_families, plug_family
from coldstack.core.chain.warmth import HOT_RISE_K, Warming
from coldstack.core.packs.pack import Pack

FEWEST_JOINTS = 2
"""Poles of one plug: each is a joint to solder."""


@dataclass(frozen=True, slots=True)
class ModelPlug:
    """A model's plug, whether nobody said it, its cells, and what its run asks of a plug."""

    name: str
    plug: str
    assumed: bool
    cells: int
    warming: Warming | None


@dataclass(frozen=True, slots=True)
class OnePlug:
    """One family for every model and pack: plugs to change, joints to solder; adapters that fall away; models
    in which it would get too hot; packs and models that keep theirs."""

    plug: str
    name: str
    packs: tuple[str, ...]
    models: tuple[str, ...]
    joints: int
    falls_away: tuple[str, ...]
    over: tuple[str, ...]
    cannot: tuple[str, ...]

    @property
    def possible(self) -> bool:
        """Whether nothing speaks against it."""
        return not self.over and not self.cannot


def one_plug(
    family: PlugFamily, packs: Sequence[Pack], models: Sequence[ModelPlug], pieces: Sequence[Adapter]
) -> OnePlug:
    """What one plug for all would take.

    Adapters from one family on packs to another fall away; charge leads stay, and are not counted. A pack
    whose plug holds its balance wires keeps it, as does what runs on a single cell with a small plug.
    """
    keeps = [p for p in packs if p.balance_family == "integrated" or _too_small(p.series, p.plug, family)]
    stay = [m for m in models if _too_small(m.cells, m.plug, family)]
    changed = [p for p in packs if p.plug != family.id and p not in keeps]
    models_changed = [m for m in models if m.plug != family.id and m not in stay]
    return OnePlug(
        family.id,
        family.name,
        tuple(p.called for p in changed),
        tuple(m.name for m in models_changed),
        FEWEST_JOINTS * (len(changed) + len(models_changed)),
        tuple(a.name for a in pieces if _between_packs(a)),
        tuple(m.name for m in models if m.warming and plug_rise_k(family, m.warming) > HOT_RISE_K),
        (*(p.called for p in keeps if p.plug != family.id), *(m.name for m in stay)),
    )


def _too_small(cells: int, plug: str, family: PlugFamily) -> bool:
    """Whether a one-cell thing has a small plug of its own, beside which the other is a lump."""
    return cells == 1 and plug != family.id and plug_family(plug).continuous_a < family.continuous_a / 2


def _between_packs(piece: Adapter) -> bool:
    if piece.kind == "lead":
        return False
    ends = [plug_family(end.family) for end in piece.ends]
    return all(f.on_packs for f in ends) and len({f.id for f in ends}) > 1


def plugs_for_all(
    packs: Sequence[Pack], models: Sequence[ModelPlug], pieces: Sequence[Adapter]
) -> list[OnePlug]:
    """Each family that something here has already, the one with the least against it and the least to solder
    first."""
    here = {p.plug for p in packs} | {m.plug for m in models}
    found = [
        one_plug(f, packs, models, pieces) for f in plug_families().values() if f.id in here and f.on_packs
    ]
    return sorted(found, key=lambda x: (len(x.over), len(x.cannot), x.joints, x.plug))
