"""Drivers of chargers: a module each, found by the first word of an address: ``csv://127.0.0.1:8705`` is
driven by `drivers.csv`; without one, by `drivers.line`. Each has ``charger(address)``, which gives a
`ChargerDevice`.
"""

from __future__ import annotations

import re
from importlib import import_module
from importlib.util import find_spec
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from coldstack.server.devices.charger import ChargerDevice


def driven(address: str) -> ChargerDevice | None:
    """The charger at an address; None where no driver is named so."""
    scheme, _, place = address.rpartition("://")
    name = f"{__name__}.{scheme or 'line'}"
    if not re.fullmatch(r"[a-z_]*", scheme) or find_spec(name) is None:
        return None
    found: ChargerDevice = import_module(name).charger(place)
    return found
