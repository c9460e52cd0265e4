"""Plug families of one's own beside the table's: set all at once, checked, and a column of figures for
batches.

A batch of candidates holds families by index. An index once given keeps its family for as long as the
program runs, so that a batch that is being computed while families change never looks at another family's
figures.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from functools import cache
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from coldstack.core.chain import plugs
from coldstack.core.chain.plugs import PLUGS, PlugFamily, plug_family
from coldstack.core.errors import DomainError, faults, refuse
from coldstack.core.fields.table import bounds
from coldstack.core.units import MM

OWN = "own_"
"""What the id of a family of one's own begins with."""
_order: list[PlugFamily] = list(PLUGS.values())
_index: dict[str, int] = {p.id: k for k, p in enumerate(_order)}
_dependents: list[Callable[[], None]] = []
_lock = Lock()


def set_own_plugs(families: Iterable[PlugFamily]) -> None:
    """Replace the families of one's own. What was computed with others is forgotten."""
    wanted = {f.id: f for f in families}
    with _lock:
        if wanted == plugs._own:
            return
        for family in wanted.values():
            if family.id in _index:
                _order[_index[family.id]] = family
            else:
                _order.append(family)
                _index[family.id] = len(_order) - 1
        plugs._own = wanted
        plug_column.cache_clear()
        for forget in _dependents:
            forget()


def depends_on_plugs(forget: Callable[[], None]) -> None:
    """Have a cache emptied whenever families change."""
    _dependents.append(forget)


@contextmanager
def with_plugs(families: Iterable[PlugFamily]) -> Iterator[None]:
    """These families besides those there are, for this thread, while a file that brings them is looked at."""
    token = plugs._announced.set({f.id: f for f in families})
    try:
        yield
    finally:
        plugs._announced.reset(token)


def own_plugs() -> dict[str, PlugFamily]:
    """Families of one's own, by id."""
    return plugs._own


def index_of_plug(plug_id: str) -> int:
    """The place of a family in a column of figures; raises DomainError for an unknown one."""
    return _index[plug_family(plug_id).id]


def plug_at(index: int) -> PlugFamily:
    """The family at an index, also one that has gone meanwhile."""
    return _order[index]


@cache
def plug_column(name: str) -> NDArray[np.float64]:
    """One figure of every family: index it by a batch's plug indices."""
    return np.array([getattr(p, name) for p in _order], dtype=float)


def resistance_of_such(continuous_a: float) -> float:
    """Resistance of a mated pair whose resistance nobody gave: the table's plugs of 15 A and more drop about
    30 mV at their continuous amps. [mΩ]"""
    return 30.0 / max(continuous_a, 0.1)


def check_plug(family: PlugFamily) -> PlugFamily:
    """The family itself, if every figure is possible and what it names is known.

    Raises
    ------
    DomainError
        Naming the field and what would be right.
    """
    f = family
    refuse(
        faults(
            *bounds(f),
            lambda: _check_burst(f),
            lambda: _check_named(f, "mates_with", f.mates_with),
            lambda: _check_named(f, "mistaken_for", f.mistaken_for),
            lambda: _check_apart(f),
            lambda: _check_face(f),
        )
    )
    return family


def _check_burst(f: PlugFamily) -> None:
    if f.burst_a < f.continuous_a:
        raise DomainError(
            "burst_a", f"A plug carries its continuous current in a burst too: at least {f.continuous_a:g} A."
        )


def _check_named(f: PlugFamily, field: str, named: frozenset[str]) -> None:
    for other in sorted(named):
        try:
            plug_family(other)
        except DomainError:
            raise DomainError(field, f"There is no plug “{other}” here.") from None
        if other == f.id:
            raise DomainError(field, "That is the plug itself.")


def _check_apart(f: PlugFamily) -> None:
    both = f.mates_with & f.mistaken_for
    if both:
        raise DomainError("mistaken_for", f"{plug_family(min(both)).name} mates with it: it is no mistake.")


def _check_face(f: PlugFamily) -> None:
    """Contacts beside each other, within the shell."""
    if f.contact_mm is None:
        return
    if f.apart_mm is not None and f.apart_mm <= f.contact_mm:
        raise DomainError(
            "apart_mm",
            f"Contacts of {f.contact_mm:g}{MM} touch if their middles are {f.apart_mm:g}{MM} apart.",
        )
    across = f.contact_mm + (f.apart_mm or 0.0)
    if f.shell_width_mm is not None and f.shell_width_mm < across:
        raise DomainError("shell_width_mm", f"The contacts alone are {across:g}{MM} across.")
    if f.shell_height_mm is not None and f.contact_shape == "round" and f.shell_height_mm < f.contact_mm:
        raise DomainError("shell_height_mm", f"A contact alone is {f.contact_mm:g}{MM} high.")
