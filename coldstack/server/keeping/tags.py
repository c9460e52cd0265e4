"""Printed tags: what a pack is, how it is charged, and a code that opens its page."""

from __future__ import annotations

from collections.abc import Collection
from functools import lru_cache
from urllib.parse import quote, urlsplit

import segno

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.amps import label_charge_c
from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import Pack
from coldstack.core.units import plain_number
from coldstack.server.keeping import replies as r
from coldstack.server.life.now import standings

LONGEST_ADDRESS = 120


def tags_out(address: str, tags: Collection[str] = ()) -> list[r.TagOut]:
    """A tag for each pack, or for those named; raises DomainError for what is no address of a program."""
    base = _checked(address)
    return [_tag(s.tag, s.pack, base) for s in standings() if not tags or s.tag in tags]


@lru_cache(maxsize=2048)
def _code(address: str) -> str:
    return segno.make(address, error="m", micro=False).svg_data_uri(border=0, dark="#000")


def _tag(tag: str, pack: Pack, base: str) -> r.TagOut:
    address = f"{base}/pack/{quote(tag, safe='')}"
    cell, n = chemistry(pack.chemistry), plain_number
    # on paper stands what the label and the chemistry allow: house rules change
    amps, full = label_charge_c(pack) * pack.capacity_ah, pack.series * cell.full_v
    ends = "Ends at its peak" if cell.charge_method == "peak" else f"Full at {full:.2f} V"
    return r.TagOut(
        tag=tag,
        name=pack.name,
        kind=f"{cell.name} {pack.series}S, {1000 * pack.capacity_ah:.0f} mAh",
        charging=[f"Charge at most {n(amps, 2)} A", ends] if pack.fit else ["Not to be charged or run"],
        address=address,
        code=_code(address),
    )


def _checked(address: str) -> str:
    clean = address.strip().rstrip("/")
    parts = urlsplit(clean) if "://" in clean else None
    if (
        parts is None
        or parts.scheme not in ("http", "https")
        or not parts.hostname
        or len(clean) > LONGEST_ADDRESS
        or any(c.isspace() for c in clean)
    ):
        raise DomainError("address", "An address looks like http://192.168.1.20:8600.")
    return clean
