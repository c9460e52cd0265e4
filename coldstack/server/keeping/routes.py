"""The shelf, a pack's page, and noting states."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import File, Form, Query, Router
from ninja.files import UploadedFile

from coldstack.core.errors import DomainError
from coldstack.server.api.errors import Problem
from coldstack.server.keeping import actions
from coldstack.server.keeping import box as b
from coldstack.server.keeping import replies as r
from coldstack.server.keeping.calendar import due_calendar
from coldstack.server.keeping.log_files import (
    LogImportOut,
    life_csv,
    log_json,
    read_log,
    runs_csv,
    take_log,
)
from coldstack.server.keeping.page import note_out, page_out
from coldstack.server.keeping.search import search_out
from coldstack.server.keeping.shelf import shelf_out
from coldstack.server.keeping.tags import tags_out
from coldstack.server.keeping.to_storage import to_storage_out
from coldstack.server.keeping.typos import TyposOut, typos_out
from coldstack.server.life.now import moment, standing_of
from coldstack.server.life.replies import SaidOut
from coldstack.server.rules.assemble import rules_or_house

router = Router(tags=["keeping"])
page_router = Router(tags=["keeping"])
"""Asked last: a tag may have a slash in it, so its address would take all others'."""
WRITTEN = frozenset({400, 403, 422})
LARGEST_FILE_BYTES = 32 * 1024 * 1024


@router.get("/keep/shelf", response={200: r.ShelfOut, 422: Problem}, summary="The shelf by what to do now")
def shelf(request: HttpRequest, house_rules: str | None = None) -> r.ShelfOut:
    """Every pack with its state, what is due and its worst sign."""
    return shelf_out(rules_or_house(house_rules), timezone.now())


@router.get("/keep/box", response={200: b.BoxOut, 422: Problem}, summary="The box as a whole")
def the_box(request: HttpRequest, house_rules: str | None = None) -> b.BoxOut:
    """All models against all packs and chargers: who serves what, what to buy, sell or solder."""
    return b.box_out(rules_or_house(house_rules), timezone.now())


@router.post(
    "/keep/box/bought", response={200: b.BoxBoughtOut, WRITTEN: Problem}, summary="A proposal was bought"
)
def box_bought(request: HttpRequest, data: b.BoxBuyIn) -> b.BoxBoughtOut:
    """Its packs are in the box now, under the next free tags; one step undoes it."""
    return b.buy(data)


@router.get("/keep/search", response=r.SearchOut, summary="Notes and packs by their words")
def search(request: HttpRequest, words: Annotated[str, Query(max_length=100)] = "") -> r.SearchOut:
    """What holds all of the words, or their beginnings; accents and capitals are no matter."""
    return search_out(words)


@router.get("/keep/due.ics", response={200: None, 422: Problem}, summary="What is due, as a calendar file")
def due(request: HttpRequest, house_rules: str | None = None) -> HttpResponse:
    """For any calendar program; read again, its events change and none is added twice."""
    reply = HttpResponse(
        due_calendar(rules_or_house(house_rules), timezone.now()), content_type="text/calendar; charset=utf-8"
    )
    reply["Content-Disposition"] = 'attachment; filename="cold-stack-due.ics"'
    return reply


@router.get(
    "/keep/packs/{path:tag}/typos",
    response={200: TyposOut, 404: Problem, 422: Problem},
    summary="Slips of the finger in typed cells",
)
def typos(
    request: HttpRequest,
    tag: str,
    cells: Annotated[str, Query(max_length=200)] = "",
    mohm: Annotated[str, Query(max_length=200)] = "",
) -> TyposOut:
    """What to ask back, and the line as it may have been meant."""
    return typos_out(tag, cells, mohm)


@router.post(
    "/keep/packs/{path:tag}/notes",
    response={200: r.NoteOut, frozenset({400, 403, 404, 422}): Problem},
    summary="Note something about a pack",
)
def add_note(request: HttpRequest, tag: str, data: r.NoteIn) -> r.NoteOut:
    """With today's date."""
    return note_out(actions.add_note(tag, data))


@router.post(
    "/keep/packs/{path:tag}/checks",
    response={200: SaidOut, frozenset({400, 403, 404, 422}): Problem},
    summary="A check by hand",
)
def check(request: HttpRequest, tag: str, data: r.CheckIn) -> SaidOut:
    """Cells, resistances, temperature, and what a charge put in; it can be taken back."""
    return actions.note_check(tag, data)


@router.post(
    "/keep/packs/{path:tag}/looks",
    response={200: SaidOut, frozenset({400, 403, 404, 422}): Problem},
    summary="Looked at and felt",
)
def look_and_feel(request: HttpRequest, tag: str, data: r.VisualCheckIn) -> SaidOut:
    """Sound, or with what signs. It holds for a day, until the pack is charged or run; what does not heal
    stands until it is taken back."""
    return actions.inspect(tag, data)


@router.put(
    "/keep/packs/{path:tag}/retirement",
    response={200: r.RetirementOut, frozenset({400, 403, 404, 422}): Problem},
    summary="Steps of retiring",
)
def retirement(request: HttpRequest, tag: str, data: r.RetirementIn) -> r.RetirementOut:
    """With the last step the pack is retired; its history stays."""
    actions.tick_retirement(tag, data)
    life = standing_of(tag).now.told
    return r.RetirementOut(ticked=list(life.steps), retired=moment(life.retired_at))


@router.post("/keep/take-back", response={200: SaidOut, WRITTEN: Problem}, summary="Take back what was said")
def take_back(request: HttpRequest, data: r.EventsIn) -> SaidOut:
    """All or none. It stays in the log, withdrawn, and can be brought back."""
    return actions.take_back(data.events, withdrawn=True)


@router.post("/keep/bring-back", response={200: SaidOut, WRITTEN: Problem}, summary="Bring it back")
def bring_back(request: HttpRequest, data: r.EventsIn) -> SaidOut:
    """As it was, with its date."""
    return actions.take_back(data.events, withdrawn=False)


@router.get(
    "/keep/packs/{path:tag}/to-storage",
    response={200: r.ToStorageOut, 404: Problem, 422: Problem},
    summary="Ways to storage",
)
def to_storage(request: HttpRequest, tag: str, cells: str = "", model: str = "") -> r.ToStorageOut:
    """By its cells as read, else as the state it was left in lets one expect them."""
    return to_storage_out(tag, cells, model, timezone.now())


@router.get("/keep/tags", response={200: list[r.TagOut], 422: Problem}, summary="Printed tags")
def tags(
    request: HttpRequest,
    address: str = "",
    tags: Annotated[list[str] | None, Query(max_length=500)] = None,
) -> list[r.TagOut]:
    """A tag for each pack, or for those named; its code opens the pack's page at this address."""
    return tags_out(address or f"{request.scheme}://{request.get_host()}", tags or ())


@router.get("/keep/log.json", summary="The log as JSON")
def log_out(request: HttpRequest) -> StreamingHttpResponse:
    """All events of every pack, in the versioned format of docs/formats.md."""
    return _file(log_json(timezone.now()), "application/json", "cold-stack-log.json")


@router.get("/keep/runs.csv", summary="The runs as CSV")
def runs_file(request: HttpRequest) -> StreamingHttpResponse:
    """For a spreadsheet."""
    return _file(runs_csv(), "text/csv; charset=utf-8", "cold-stack-runs.csv")


@router.get("/keep/life.csv", summary="Every pack’s life as CSV")
def life_file(request: HttpRequest) -> StreamingHttpResponse:
    """For a spreadsheet: all events that stand."""
    return _file(life_csv(), "text/csv; charset=utf-8", "cold-stack-life.csv")


@router.post("/keep/log", response={200: LogImportOut, WRITTEN: Problem}, summary="Take a log in")
def log_in(request: HttpRequest, file: File[UploadedFile], store: Form[bool] = False) -> LogImportOut:
    """What is not there yet is added, all or nothing; without ``store`` it only says what would be."""
    if (file.size or 0) > LARGEST_FILE_BYTES:
        raise DomainError("file", f"The file has {(file.size or 0) / 1e6:.0f} MB; at most 32 MB can be read.")
    return take_log(read_log(file.read()), store=store)


@router.post(
    "/keep/left",
    response={200: SaidOut, WRITTEN: Problem},
    summary="These packs were left in a state",
)
def left(request: HttpRequest, data: r.LeftIn) -> SaidOut:
    """All or none; it can be taken back."""
    return actions.leave(data)


@router.post("/keep/charged", response={200: SaidOut, WRITTEN: Problem}, summary="Charged full by hand")
def charged(request: HttpRequest, data: r.ChargedIn) -> SaidOut:
    """On a charger that nobody links. All or none; it can be taken back."""
    return actions.charged(data)


def _file(parts: Iterator[str], kind: str, name: str) -> StreamingHttpResponse:
    reply = StreamingHttpResponse((part.encode() for part in parts), content_type=kind)
    reply["Content-Disposition"] = f'attachment; filename="{name}"'
    return reply


@page_router.get(
    "/keep/packs/{path:tag}", response={200: r.PageOut, 404: Problem, 422: Problem}, summary="All of one pack"
)
def page(request: HttpRequest, tag: str, house_rules: str | None = None) -> r.PageOut:
    """Health with its evidence, resistance and capacity over time, how to retire it."""
    return page_out(tag, rules_or_house(house_rules), timezone.now())
