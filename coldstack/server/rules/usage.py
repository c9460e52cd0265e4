"""Who goes by which set of house rules."""

from __future__ import annotations

from coldstack.server.charges.models import Layout
from coldstack.server.gear.models import RcModel
from coldstack.server.rules.assemble import house


def users() -> dict[str, list[str]]:
    """Names of models, the bench and the shelf, by the set they go by; three queries."""
    out: dict[str, list[str]] = {}
    for name, rules_id in RcModel.live.order_by("position", "id").values_list("name", "job__house_rules"):
        out.setdefault(rules_id or "steady", []).append(name)
    layout = Layout.objects.filter(pk=1).first()
    out.setdefault((layout.document if layout else {}).get("house_rules", "steady"), []).append("the bench")
    out.setdefault(house().house_rules, []).append("the shelf")
    return out
