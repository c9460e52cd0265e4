"""The box: all models against all packs and chargers, and what to buy, sell or solder."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from datetime import datetime, timedelta

from django.db import transaction
from pydantic import BaseModel, Field

from coldstack.core.box.boxed import SERVES, Boxed, BoxModel, boxed
from coldstack.core.box.buying import MISSED_MIN, Proposal, Purchase, lost_without, what_to_buy
from coldstack.core.box.demand import By, demand_of
from coldstack.core.box.one_plug import OnePlug, plugs_for_all
from coldstack.core.box.waiting import OnePortMore, Ports, Waits, one_port_more, only_on, whole_box
from coldstack.core.box.words import gain_words, headline
from coldstack.core.errors import DomainError
from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.matching.grid import charge_cells
from coldstack.core.packs.keys import catalogue_row
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.server.gear import actions
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import CataloguePack, RcModel
from coldstack.server.gear.schemas import ChangeOut
from coldstack.server.life.models import Event
from coldstack.server.life.packs import owned_packs
from coldstack.server.rules.assemble import all_rules
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import In, JobIn

YEAR = timedelta(days=365)
DAY_S = 86_400.0
MOST_PLUGS = 5


class BoxModelOut(BaseModel):
    """A model: how often it is run and by what that is known; how many packs run it, and how many of them on
    a day that all models are out; how many runs of that day lack a pack."""

    slug: str
    name: str
    often: str
    by: By
    runs_a_day: int
    able: int
    on_a_day: int
    short: int


class BoxPackOut(BaseModel):
    """A pack: its verdict in each model, how many it serves, the model that it runs on a day that all are out
    (empty for none), and minutes a month that would be run less without it."""

    tag: str
    name: str
    verdicts: list[FitVerdict]
    serves: int
    runs: str
    lost_minutes: float


class BuyOut(BaseModel):
    """One of the purchases of a proposal."""

    id: str
    name: str
    count: int
    price: float | None


class ProposalOut(BaseModel):
    """Purchases that together let more be run, in money and minutes a month; in words."""

    buys: list[BuyOut]
    price: float | None
    more_minutes: float
    words: str


class BoxOut(BaseModel):
    """The box as a whole."""

    headline: str
    minutes: float
    wanted_minutes: float
    models: list[BoxModelOut]
    packs: list[BoxPackOut]
    none: list[str]
    two: list[str]
    spare: list[str]
    """Those that serve a model and would not be missed."""
    proposals: list[ProposalOut]
    plugs: list[OnePlug]
    waits: Waits | None
    port: OnePortMore | None
    only: list[str]


class BoxBuyIn(In):
    """What was bought: ids of a proposal, one as often as it was bought."""

    ids: list[str] = Field(min_length=1, max_length=3)


class BoxBoughtOut(BaseModel):
    """The tags that they bear now, and the change that undoes all of it."""

    tags: list[str]
    change: ChangeOut


def box_out(rules: HouseRules, now: datetime) -> BoxOut:
    """The box as it is now; one pass a model, seven queries and one for the runs."""
    rows, owned, sold = list(RcModel.live.all()), owned_packs(fit_only=True), gear.bought_stock().packs
    sets, days = all_rules(), _run_days(now)
    models = [
        BoxModel(job, demand_of(job, days.get(row.slug, [])))
        for row in rows
        for job in [job_of(JobIn(**row.job), sets)]
    ]
    bench = gear.bench()
    found = boxed(models, owned, sold, bench.pieces)
    proposals = what_to_buy(found.box, found.shop)
    waits, port, only = _charging(owned, rules)
    served = found.box.served()
    out_models = [
        _model_out(row, m, found, served.packs_of(k), k)
        for k, (row, m) in enumerate(zip(rows, models, strict=True))
    ]
    names = [r.name for r in rows]
    lost = lost_without(found.box)
    packs = [
        BoxPackOut(
            tag=p.called,
            name=p.name,
            verdicts=[found.verdicts[m][k] for m in range(len(rows))],
            serves=sum(found.verdicts[m][k] in SERVES for m in range(len(rows))),
            runs=names[served.model_of[k]] if served.model_of[k] >= 0 else "",
            lost_minutes=lost[k],
        )
        for k, p in enumerate(owned)
    ]
    return BoxOut(
        headline=headline(len(packs), names, [m.name for m in out_models if m.short > 0]),
        minutes=served.minutes,
        wanted_minutes=found.wanted_minutes,
        models=out_models,
        packs=packs,
        none=[p.tag for p in packs if p.serves == 0],
        two=[p.tag for p in packs if p.serves > 1],
        spare=[p.tag for p in packs if p.serves > 0 and p.lost_minutes < MISSED_MIN],
        proposals=[_proposal_out(p, found.shop, names) for p in proposals],
        plugs=plugs_for_all(owned, found.plugs, bench.pieces)[:MOST_PLUGS] if owned else [],
        waits=waits,
        port=port,
        only=[f"{tag} on {name} alone" for tag, name in only],
    )


def _run_days(now: datetime) -> dict[str, list[float]]:
    runs = Event.standing.filter(kind="run", at__gte=now - YEAR, at__lte=now).values_list("model", "at")
    days: dict[str, list[float]] = {}
    for model, at in runs:
        days.setdefault(model, []).append(at.timestamp() / DAY_S)
    return days


def _model_out(row: RcModel, m: BoxModel, found: Boxed, on_a_day: int, k: int) -> BoxModelOut:
    return BoxModelOut(
        slug=row.slug,
        name=row.name,
        often=m.demand.words,
        by=m.demand.by,
        runs_a_day=m.demand.runs_a_day,
        able=sum(v in SERVES for v in found.verdicts[k]),
        on_a_day=on_a_day,
        short=m.demand.runs_a_day - on_a_day,
    )


def _proposal_out(p: Proposal, shop: Sequence[Purchase], models: Sequence[str]) -> ProposalOut:
    by_id = {x.id: x for x in shop}
    buys = [
        BuyOut(id=i, name=by_id[i].name, count=n, price=by_id[i].price) for i, n in Counter(p.ids).items()
    ]
    return ProposalOut(
        buys=buys,
        price=p.price,
        more_minutes=p.more_minutes,
        words=gain_words(p, models),
    )


def _charging(
    owned: Sequence[Pack], rules: HouseRules
) -> tuple[Waits | None, OnePortMore | None, list[tuple[str, str]]]:
    """How long the whole box takes on all chargers, the port that would save most, and who has but one."""
    chargers = gear.chargers()
    cells = charge_cells(
        owned, chargers, rules=rules, trust="cautious", bench=gear.bench(), supplies=gear.supplies()
    )
    takes = [[c.minutes if c.verdict == "does" else None for c in row] for row in cells]
    ports, tags = [Ports(c.id, c.name, c.ports) for c in chargers], [p.called for p in owned]
    only = only_on(tags, ports, takes) if len(chargers) > 1 else []
    return whole_box(tags, ports, takes), one_port_more(tags, ports, takes), only


@transaction.atomic
def buy(data: BoxBuyIn) -> BoxBoughtOut:
    """The packs of a proposal are owned now: all or none, and undone in one step.

    Raises
    ------
    DomainError
        For one that is not on sale any more.
    """
    items, change = actions.buy_several([_on_sale(i) for i in data.ids])
    return BoxBoughtOut(tags=[x.tag for x in items], change=ChangeOut.of(change))


def _on_sale(pack_id: str) -> CataloguePack | Pack:
    row = catalogue_row(pack_id)
    found = gear.bought_pack(pack_id) if row is None else CataloguePack.live.filter(pk=row).first()
    if found is None:
        raise DomainError("ids", "It is not on sale any more.")
    return found
