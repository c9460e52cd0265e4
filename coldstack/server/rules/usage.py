"""Who goes by which set of house rules."""

from __future__ import annotations

from coldstack.server.charges.models import Layout
from coldstack.server.gear.models import RcModel
from coldstack.server.practice.models import PracticeCourse
from coldstack.server.rules.assemble import house


def users() -> dict[str, list[str]]:
    """Names of models, the bench, the shelf and courses, by the set they go by; four queries."""
    out: dict[str, list[str]] = {}
    for name, rules_id in RcModel.live.order_by("position", "id").values_list("name", "job__house_rules"):
        out.setdefault(rules_id or "steady", []).append(name)
    layout = Layout.objects.filter(pk=1).first()
    out.setdefault((layout.document if layout else {}).get("house_rules", "steady"), []).append("the bench")
    out.setdefault(house().house_rules, []).append("the shelf")
    for name, rules_id in (
        PracticeCourse.objects.filter(removed=None).exclude(house_rules="").values_list("name", "house_rules")
    ):
        out.setdefault(rules_id, []).append(f"the course {name}")
    return out
