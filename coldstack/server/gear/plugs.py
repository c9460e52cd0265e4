"""Plug families of one's own: from their table into the core, who uses one, and keeping the core's in
step with the table."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from threading import local
from typing import Any

from django.db import connection
from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify

from coldstack.core.chain.own_plugs import OWN, resistance_of_such, set_own_plugs
from coldstack.core.chain.plugs import PlugFamily
from coldstack.core.errors import DomainError
from coldstack.server.gear.changes import mark_now
from coldstack.server.gear.models import CataloguePack, Charger, OwnedPack, OwnPlug, Piece, RcModel

Row = Mapping[str, Any]
SHOWN_USERS = 3
FACE = ("contact_shape", "contact_mm", "apart_mm", "shell_width_mm", "shell_height_mm")
"""What it looks like, as far as somebody said."""


def plug_of(row: Row) -> PlugFamily:
    """A stored row, or an API's input, as a family."""
    amps = row["continuous_a"]
    return PlugFamily(
        id=row["code"] or plug_code(row["name"]),
        name=row["name"],
        continuous_a=amps,
        burst_a=amps if row["burst_a"] is None else row["burst_a"],
        resistance_mohm=resistance_of_such(amps)
        if row["resistance_mohm"] is None
        else row["resistance_mohm"],
        keyed=row["keyed"],
        wired_either_way=row["wired_either_way"],
        alike=row["alike"],
        recommended=False,
        spark_guard=row["spark_guard"],
        mates_with=frozenset(row["mates_with"]),
        mistaken_for=frozenset(row["mistaken_for"]),
        **{name: row[name] for name in FACE},
    )


def plug_code(name: str) -> str:
    """How packs and files name a family of this name."""
    return OWN + (slugify(name).replace("-", "_")[:16] or "plug")


def read_own_plugs() -> None:
    """Bring the core's families in step with the table; one query."""
    set_own_plugs(plug_of(row) for row in OwnPlug.live.values())
    _last.seen, _last.stamp = mark_now(), _stamp()


class OwnPlugs:
    """Middleware: before each request the core has the families that the table has."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Look before the request is answered."""
        if request.path.startswith("/api/") and getattr(_last, "seen", None) != mark_now():
            if getattr(_last, "stamp", None) == _stamp():
                _last.seen = mark_now()  # something else changed
            else:
                read_own_plugs()
        return self.get_response(request)


def require_unused(code: str) -> None:
    """Refuse to let a family go that something live names.

    Raises
    ------
    DomainError
        Naming the first few that use it.
    """
    users = [*_users(code)]
    if users:
        more = f" and {len(users) - SHOWN_USERS} more" if len(users) > SHOWN_USERS else ""
        raise DomainError(
            "name", f"It is used by {', '.join(users[:SHOWN_USERS])}{more}. Give them another plug first."
        )


def _users(code: str) -> Iterator[str]:
    yield from (f"pack {tag}" for tag in OwnedPack.live.filter(plug=code).values_list("tag", flat=True))
    yield from CataloguePack.live.filter(plug=code).values_list("name", flat=True)
    for side in ("pack_plug", "device_plug"):
        yield from Piece.live.filter(**{side: code}).values_list("name", flat=True)
    yield from Charger.live.filter(output_plug=code).values_list("name", flat=True)
    yield from (name for name, job in RcModel.live.values_list("name", "job") if _names(job, code))
    for name, mates, mistaken in OwnPlug.live.values_list("name", "mates_with", "mistaken_for"):
        if code in (*mates, *mistaken):
            yield name


def _names(job: object, code: str) -> bool:
    """Whether a job names the family anywhere."""
    if isinstance(job, dict):
        return any(_names(v, code) for v in job.values())
    return job == code


_last = local()


def _stamp() -> tuple[object, ...]:
    """What the table of plugs had last: asked of SQLite itself, since it stands before every request
    after a write."""
    connection.ensure_connection()
    found = connection.connection.execute(
        "SELECT count(*), max(updated), total(removed IS NULL) FROM gear_ownplug"
    )
    return tuple(found.fetchone())
