"""The charge side as a stack: supply, charger, port, lead, plug, pack; the link that sets the amps is the
weakest."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.chain.joints import Joint
from coldstack.core.chain.plugs import plug_family
from coldstack.core.charging.amps import PACK_LIMITS, AmpsLimit, charging_cell_v
from coldstack.core.checks import Check, check_at_most
from coldstack.core.matching.charge import ChargeFit
from coldstack.core.units import percent, plain_number
from coldstack.core.working import Step


@dataclass(frozen=True, slots=True)
class _Link:
    id: str
    name: str
    limit: AmpsLimit
    resistance_mohm: float | None = None


def charge_joints(fit: ChargeFit) -> list[Joint]:
    """Each link with the amps it carries of those it would let through, from the supply to the pack."""
    if fit.amps is None:
        return []
    links = _links(fit)
    weakest = min(range(len(links)), key=lambda k: links[k].limit.current_a)
    return [_joint(fit, link, weakest=k == weakest) for k, link in enumerate(links)]


def _links(fit: ChargeFit) -> list[_Link]:
    assert fit.amps is not None
    by_id = {limit.id: limit for limit in fit.amps.limits}
    links = []
    if "supply" in by_id and fit.feed.supply is not None:
        links.append(_Link("supply", f"Supply, {fit.feed.supply.name}", by_id["supply"]))
    source = "mains" if fit.feed.source == "mains" else "DC"
    links.append(_Link("charger", f"Charger’s watts on {source}", by_id["shared_watts"]))
    links.append(
        _Link("port", "Port", min(by_id["port_amps"], by_id["port_watts"], key=lambda x: x.current_a))
    )
    if fit.path is not None:
        links += _on_the_way(fit, by_id)
    links.append(
        _Link(
            "pack",
            "Pack, by label, house rules and how it is",
            min((x for x in fit.amps.limits if x.id in PACK_LIMITS), key=lambda x: x.current_a),
        )
    )
    return links


def _on_the_way(fit: ChargeFit, by_id: dict[str, AmpsLimit]) -> list[_Link]:
    """From the charger's output back to the pack: pairs of plugs with the pieces between them."""
    assert fit.path is not None
    path, found = fit.path, []
    for i in range(len(path.pairs) - 1, -1, -1):
        limit = by_id[f"plug_{path.pairs[i]}"]
        found.append(_Link(f"plug{i}", f"Plug, {plug_family(path.pairs[i]).name}", limit))
        if i > 0:
            piece = path.pieces[i - 1]
            found.append(_Link(f"piece{i}", piece.name, by_id[f"piece_{piece.id}"], piece.wire_mohm))
    return found


def _joint(fit: ChargeFit, link: _Link, *, weakest: bool) -> Joint:
    assert fit.amps is not None
    amps, limit = fit.amps.current_a, link.limit
    steps = (Step(limit.name, limit.formula, limit.numbers),)
    check = check_at_most(
        f"{link.id}.continuous",
        link.name,
        value=amps,
        limit=limit.current_a,
        unit="A",
        limit_source=limit.name,
        caution_from=1.0001,
        steps=steps,
    )
    r = None if link.resistance_mohm is None else link.resistance_mohm / 1000
    return Joint(
        link=link.id,
        name=link.name,
        adapter=link.id.startswith("piece"),
        continuous=check,
        burst=_no_burst(link),
        leading=check,
        loading=check.loading,
        drop_v=None if r is None else amps * r,
        heat_w=None if r is None else amps * amps * r,
        peak_heat_w=None,
        weakest=weakest,
        sentence=_sentence(fit, limit, check.loading or 0.0) if weakest else "",
    )


def _no_burst(link: _Link) -> Check:
    return check_at_most(
        f"{link.id}.burst", link.name, value=None, limit=None, unit="A", limit_source="a charge has no peaks"
    )


def _sentence(fit: ChargeFit, limit: AmpsLimit, loading: float) -> str:
    assert fit.amps is not None
    n, amps = plain_number, fit.amps
    pack_a = min(x.current_a for x in amps.limits if x.id in PACK_LIMITS)
    opening = (
        f"Sets the amps: {limit.numbers}; down to steps of {n(fit.charger.step_a)} A: "
        f"{n(amps.current_a)} A ({percent(loading)})."
    )
    if limit.id in PACK_LIMITS:
        return f"{opening} Everything else could do more; the pack should not."
    if limit.id in ("port_watts", "shared_watts", "supply"):
        volts = fit.pack.series * charging_cell_v(fit.pack)
        return (
            f"{opening} {n(pack_a * volts)} W for this pack would reach the {n(pack_a)} A that it may take."
        )
    return f"{opening} One good for {n(pack_a)} A would let the pack take what it may."
