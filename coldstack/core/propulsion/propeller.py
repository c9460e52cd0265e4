"""Propellers: read as they are printed ("10 × 4.7, three blades"), what they take and pull standing still.

Watts and thrust by the dimensionless coefficients of the field, ``P = C_P·ρ·n³·D⁵`` and ``T = C_T·ρ·n²·D⁴``
(n in rev/s, D in m). The coefficients are typical ones from general knowledge, none read from a source; how
far those of two packages that name theirs are from them is in docs/model.md. What the air does to a propeller
that moves through it is one share (`motor.IN_THE_AIR`).
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from coldstack.core.errors import DomainError

INCH_M = 0.0254
GAS_CONSTANT = 287.05
"""Of dry air. [J/kg K]"""
SEA_LEVEL_PA = 101_325.0
THRUST_COEFFICIENT = 0.11
POWER_SLOPE, POWER_OFFSET, LEAST_POWER = 0.118, 0.0135, 0.03
"""C_P of two blades = slope × pitch ÷ diameter − offset. Typical."""
BLADES = {2: (1.0, 1.0), 3: (1.42, 1.35), 4: (1.80, 1.65), 5: (2.15, 1.90), 6: (2.45, 2.10)}
"""Watts and thrust over those of two blades. Typical."""
DIAMETERS_IN, PITCH_SHARES = (0.8, 40.0), (0.15, 1.6)
"""What a propeller can measure, and its pitch over its diameter."""


@dataclass(frozen=True, slots=True)
class Propeller:
    """Diameter and pitch as printed, in inches, and the number of blades."""

    diameter_in: float
    pitch_in: float
    blades: int = 2

    @property
    def diameter_m(self) -> float:
        """Its diameter. [m]"""
        return self.diameter_in * INCH_M

    @property
    def pitch_share(self) -> float:
        """Pitch over diameter."""
        return self.pitch_in / self.diameter_in

    @property
    def words(self) -> str:
        """As the trade writes it: "10 × 4.7", "5 × 4.3 × 3"."""
        blades = f" × {self.blades}" if self.blades != 2 else ""
        return f"{self.diameter_in:.4g} × {self.pitch_in:.3g}{blades}"


def air_density(temperature_c: float) -> float:
    """Density of dry air at sea level: p ÷ (R·T). [kg/m³]"""
    return SEA_LEVEL_PA / (GAS_CONSTANT * (temperature_c + 273.15))


def power_coefficient(p: Propeller) -> float:
    """C_P standing still; typical for a pitch of 0.4 to 0.9 of the diameter."""
    two = max(POWER_SLOPE * p.pitch_share - POWER_OFFSET, LEAST_POWER)
    return two * BLADES[p.blades][0]


def thrust_coefficient(p: Propeller) -> float:
    """C_T standing still; typical."""
    return THRUST_COEFFICIENT * BLADES[p.blades][1]


def shaft_w(p: Propeller, rev_per_s: float, density: float) -> float:
    """Watts at its shaft, standing still. [W]"""
    return float(power_coefficient(p) * density * rev_per_s**3 * p.diameter_m**5)


def thrust_n(p: Propeller, rev_per_s: float, density: float) -> float:
    """What it pulls, standing still. [N]"""
    return float(thrust_coefficient(p) * density * rev_per_s**2 * p.diameter_m**4)


_TIMES = r"\s*(?:[x×*/]|by)\s*"
_NUMBER = r"(\d{1,3}(?:\.\d{1,2})?)"
_PRINTED = re.compile(rf"{_NUMBER}{_TIMES}{_NUMBER}(?:{_TIMES}(\d+)(?![\d.]))?")
_SHORT = re.compile(r"(?<!\d)(\d{2})(\d{2})(?!\d)(?:" + _TIMES + r"(\d+)(?![\d.]))?")
_BLADES = re.compile(r"\b([2-6]|two|three|four|five|six)[\s-]*blade")
_COUNTS = {"two": 2, "three": 3, "four": 4, "five": 5, "six": 6}
_MM, _CM = re.compile(r"\bmm\b|\dmm\b"), re.compile(r"\bcm\b|\dcm\b")
SHORT_FROM = 30
"""Four digits in a row are tenths of an inch from here on ("5043" is 5 × 4.3), and whole inches before their
tenths of pitch below ("1045" is 10 × 4.5)."""
EXAMPLE = "Write it as on the blade, in inches: 10 × 4.7, or 5 × 4.3 × 3 with three blades."


def read_propeller(text: str, field: str = "propulsion.propeller") -> Propeller:
    """A propeller as printed: "10x4.7", "5x4.3x3", "5043", "254 × 119 mm", "11 x 5.5, 3 blades".

    Raises
    ------
    DomainError
        At ``field``, where no propeller can be read, or none measures so.
    """
    plain = re.sub(r"(?<=\d),(?=\d)", ".", text.lower().replace("″", "").replace('"', "")).strip()
    found = None if _SHORT.match(plain) else _PRINTED.search(plain)
    if found:
        diameter, pitch = float(found[1]), float(found[2])
        scale = 25.4 if _MM.search(plain) else 2.54 if _CM.search(plain) else 1.0
        diameter, pitch = diameter / scale, pitch / scale
    else:
        found = _SHORT.search(plain)
        if found is None:
            raise DomainError(field, EXAMPLE)
        first = int(found[1])
        diameter, pitch = (first / 10 if first >= SHORT_FROM else float(first)), int(found[2]) / 10
    said = _BLADES.search(plain)
    blades = int(found[3]) if found[3] else _count(said[1]) if said else 2
    return check_propeller(Propeller(round(diameter, 3), round(pitch, 3), blades), field)


def _count(word: str) -> int:
    return _COUNTS[word] if word in _COUNTS else int(word)


def check_propeller(p: Propeller, field: str = "propulsion.propeller") -> Propeller:
    """The propeller itself, if one can measure so.

    Raises
    ------
    DomainError
        At ``field``.
    """
    low, high = DIAMETERS_IN
    if p.blades not in BLADES:
        raise DomainError(field, f"A propeller has 2 to 6 blades, not {p.blades}. {EXAMPLE}")
    if not low <= p.diameter_in <= high:
        raise DomainError(
            field, f"A propeller measures {low:g} to {high:g} inches, not {p.diameter_in:g}. {EXAMPLE}"
        )
    least, most = PITCH_SHARES
    if not least <= p.pitch_share <= most:
        raise DomainError(
            field,
            f"A pitch of {p.pitch_in:g} inches does not go with a diameter of {p.diameter_in:g}. {EXAMPLE}",
        )
    return p
