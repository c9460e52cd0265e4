"""Labels made from a known pack: shuffled, spelt in many ways, with a slip of the pen; and whether a
reading does it justice."""

from __future__ import annotations

import random
from dataclasses import dataclass

NOMINAL = {"lipo": 3.7, "lihv": 3.8, "liion": 3.6, "lifepo4": 3.2, "nimh": 1.2, "semisolid": 3.7}
CHEMISTRY_WORDS = {
    "lipo": ("LiPo", "LIPO", "Li-Po", "lithium polymer", ""),
    "lihv": ("LiHV", "Li-HV", "LiPo HV", "HV"),
    "liion": ("Li-ion", "LiIon", "Li-Ion", "lithium ion"),
    "lifepo4": ("LiFePO4", "LiFe", "LFP"),
    "nimh": ("NiMH", "Ni-MH", "NIMH"),
    "semisolid": ("semi-solid", "semi solid", "Semisolid"),
}
PLUG_WORDS = {
    "xt30": ("XT30", "XT-30", "XT30U"),
    "xt60": ("XT60", "xt 60", "XT60H", "XT60-F"),
    "xt90": ("XT90", "XT90-S"),
    "ec3": ("EC3", "EC-3"),
    "ec5": ("EC5",),
    "t_plug": ("T-plug", "T connector", "T plug"),
    "as150": ("AS150",),
    "qs8": ("QS8", "QS8-S"),
    "bullet_4": ("4mm bullets", "4.0 mm bullet", "bullet 4 mm"),
}
MAKERS = ("Fellside", "Brackwater", "Hollin", "Tarnlight", "Firn", "Graupel", "Race Line", "")


@dataclass(frozen=True)
class Truth:
    """A pack, as it should be read."""

    values: dict[str, object]


def truth(rng: random.Random) -> Truth:
    """A pack that could be sold."""
    chemistry = rng.choice(("lipo",) * 6 + ("lihv", "lihv", "liion", "lifepo4", "nimh", "semisolid"))
    series = rng.choice((2, 3, 4, 4, 5, 6, 6, 8, 12)) if chemistry != "nimh" else rng.choice((6, 7, 8))
    ah = rng.choice((0.45, 0.85, 1.3, 1.55, 2.2, 2.6, 3.3, 3.7, 3.9, 4.2, 5.0, 6.75, 10.0))
    low = chemistry in ("liion", "semisolid", "lifepo4", "nimh")
    c = rng.choice((8, 10, 12, 15)) if low else rng.choice((20, 25, 30, 35, 45, 50, 65, 75, 95, 100, 120))
    mass = round(1000 * ah * series * NOMINAL[chemistry] / rng.uniform(90, 210))
    values: dict[str, object] = {
        "chemistry": chemistry,
        "series": series,
        "parallel": rng.choice((1, 1, 2, 3)),
        "capacity_ah": ah,
        "label_c": c,
        "label_burst_c": 2 * c,
        "charge_c": rng.choice((1, 2, 3, 5)) if not low else 1,
        "plug": rng.choice(tuple(PLUG_WORDS)),
        "mass_g": mass,
        "price": round(rng.uniform(9, 190), 2),
        "nominal_v": round(series * NOMINAL[chemistry], 1),
        "lead_awg": rng.choice((8, 10, 12, 14, 16)),
    }
    return Truth(values)


def _cells(v: dict) -> list[str]:
    s, p = v["series"], v["parallel"]
    if p > 1:
        return [f"{s}S{p}P", f"{s}s{p}p", f"{s}S {p}P"]
    return [f"{s}S", f"{s}S{p}P", f"{s} S", f"{s}s", f"{s} cells"]


def _capacities(ah: float, rng: random.Random) -> list[str]:
    mah = round(1000 * ah)
    out = [f"{mah}mAh", f"{mah} mAh", f"{mah}MAH", f"{ah:g}Ah", f"{ah:g} Ah", f"{mah} mah"]
    if mah >= 1000:
        out += [f"{mah:,}mAh", f"{mah}", f"{mah // 1000} {mah % 1000:03d} mAh"]
    elif rng.random() < 0.5:
        out.append(f"{mah}")
    return out


def _rates(c: float, burst: float, sep: str) -> list[str]:
    return [
        f"{c}C/{burst}C",
        f"{c}C",
        f"{c}C-{burst}C",
        f"{c}/{burst}C",
        f"{c} C",
        f"{c}C cont. {burst}C burst",
        f"burst {burst}C{sep}{c}C continuous",
        f"discharge {c}C",
    ]


def _charges(c: float, ah: float) -> list[str]:
    amps = f"{round(c * ah, 2):g}"
    by_c = [f"charge {c}C", f"{c}C charge", f"charge: {c}C", f"max charge {c}C", f"charge rate {c}C"]
    return [*by_c, f"charge {amps}A", f"charging at {amps} A"]


def label(of: Truth, rng: random.Random) -> str:
    """Some of its figures, in any order and spelling."""
    v = of.values
    ah, c, burst, charge = v["capacity_ah"], v["label_c"], v["label_burst_c"], v["charge_c"]
    comma = rng.random() < 0.2
    sep = rng.choice((" ", " ", " ", ", ", "  ", " / ", " | ", "; "))
    parts = [rng.choice(_cells(v)), rng.choice(_capacities(ah, rng)), rng.choice(_rates(c, burst, sep))]
    parts += _some(rng, 0.6, [f"{v['nominal_v']:g}V", f"{v['nominal_v']:g} V", f"{v['nominal_v']:.1f}v"])
    parts += _some(rng, 0.5, _charges(charge, ah))
    parts += _some(rng, 0.4, PLUG_WORDS[v["plug"]])
    parts += _some(rng, 0.4, [f"{v['mass_g']}g", f"{v['mass_g']} g", f"{v['mass_g']} grams"])
    parts += _some(
        rng, 0.3, [f"€{v['price']:.2f}", f"{v['price']:.2f} €", f"${v['price']:.2f}", f"{v['price']:.2f} EUR"]
    )
    parts += _some(rng, 0.2, [f"{v['lead_awg']}AWG", f"AWG{v['lead_awg']}"])
    parts += [w for w in (rng.choice(CHEMISTRY_WORDS[v["chemistry"]]), rng.choice(MAKERS)) if w]
    parts += _some(rng, 0.15, [f"{ah * v['nominal_v']:.1f}Wh"])
    noise = "2/3A" if v["chemistry"] == "nimh" else "racing"
    parts += _some(rng, 0.2, ["hard case", "RC pack", "battery", noise, "5A BEC", "XH", "Nr. 7", "V2"])
    rng.shuffle(parts)
    text = sep.join(parts)
    return text.replace(".", ",") if comma and "," not in text else text


def misspelt(text: str, rng: random.Random) -> str:
    """One slip in a word: a letter doubled, left out, swapped with its neighbour, taken for another, or
    in the other case."""
    at = [i for i, x in enumerate(text) if x.isalpha()]
    i = rng.choice(at)
    kind = rng.choice(("double", "drop", "swap", "case", "other"))
    if kind == "double":
        return text[:i] + text[i] + text[i:]
    if kind == "drop":
        return text[:i] + text[i + 1 :]
    if kind == "other":
        return text[:i] + rng.choice("abcdehilmnoprstuvwxyABCHLPSVX") + text[i + 1 :]
    if kind == "case":
        return text[:i] + text[i].swapcase() + text[i + 1 :]
    if i + 1 < len(text) and text[i + 1].isalpha():
        return text[:i] + text[i + 1] + text[i] + text[i + 2 :]
    return text


def wrong_in_silence(reading, of: Truth) -> dict[str, tuple[object, object]]:
    """Fields that were read as something else than the truth, without a word about it."""
    said = " ".join((*reading.contradictions, *reading.filled, *reading.asked.values()))
    wrong = {}
    for name, true in of.values.items():
        value = reading.values.get(name)
        if value is None or name in reading.asked or same(value, true):
            continue
        if (
            str(reading.words[name]) not in said
            and not reading.contradictions
            and reading.words[name] != "assumed"
        ):
            wrong[name] = (value, true)
    return wrong


def same(value: object, true: object) -> bool:
    if isinstance(value, str) or isinstance(true, str):
        return value == true
    return abs(value - true) <= 0.011 * abs(true)


def _some(rng: random.Random, share: float, of) -> list[str]:
    return [rng.choice(tuple(of))] if rng.random() < share else []
