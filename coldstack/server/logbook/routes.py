"""The shelf, a pack's page, and noting states."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Path, Router
from ninja.files import UploadedFile

from coldstack.core.errors import DomainError
from coldstack.server.api.access import FromOurPage
from coldstack.server.api.errors import Problem
from coldstack.server.logbook import actions
from coldstack.server.logbook import replies as r
from coldstack.server.logbook.calendar import due_calendar
from coldstack.server.logbook.day import day_out
from coldstack.server.logbook.log_files import (
    LogImportOut,
    log_json,
    read_log,
    records_csv,
    runs_csv,
    take_log,
)
from coldstack.server.logbook.page import note_out, page_out
from coldstack.server.logbook.run_packs import run_packs_out
from coldstack.server.logbook.running import go_out, run_out, runs_out
from coldstack.server.logbook.shelf import shelf_out
from coldstack.server.logbook.tags import tags_out
from coldstack.server.logbook.to_storage import to_storage_out
from coldstack.server.rules.assemble import rules_or_house

router = Router(tags=["keeping"])
WRITTEN = frozenset({400, 403, 422})
RunKey = Annotated[str, Path(max_length=40)]
LARGEST_FILE_BYTES = 32 * 1024 * 1024
RowId = Annotated[int, Path(ge=1, le=2**53)]


@router.get("/keep/shelf", response={200: r.ShelfOut, 422: Problem}, summary="The shelf by what to do now")
def shelf(request: HttpRequest, house_rules: str | None = None) -> r.ShelfOut:
    """Every pack with its state, what is due and its worst sign."""
    return shelf_out(rules_or_house(house_rules), timezone.now())


@router.get("/keep/due.ics", response={200: None, 422: Problem}, summary="What is due, as a calendar file")
def due(request: HttpRequest, house_rules: str | None = None) -> HttpResponse:
    """For any calendar program; read again, its events change and none is added twice."""
    reply = HttpResponse(
        due_calendar(rules_or_house(house_rules), timezone.now()), content_type="text/calendar; charset=utf-8"
    )
    reply["Content-Disposition"] = 'attachment; filename="cold-stack-due.ics"'
    return reply


@router.get("/keep/packs/{tag}", response={200: r.PageOut, 404: Problem, 422: Problem}, summary="All of one pack")  # fmt: skip
def page(request: HttpRequest, tag: str, house_rules: str | None = None) -> r.PageOut:
    """Health with its evidence, resistance and capacity over time, how to retire it."""
    return page_out(tag, rules_or_house(house_rules), timezone.now())


@router.post("/keep/packs/{tag}/notes", response={200: r.NoteOut, frozenset({400, 403, 404, 422}): Problem}, auth=FromOurPage(), summary="Note something about a pack")  # fmt: skip
def add_note(request: HttpRequest, tag: str, data: r.NoteIn) -> r.NoteOut:
    """With today's date."""
    return note_out(actions.add_note(tag, data.text))


@router.delete("/keep/notes/{note_id}", response={200: r.NoteOut, frozenset({400, 403, 404, 422}): Problem}, auth=FromOurPage(), summary="Take a note away")  # fmt: skip
def remove_note(request: HttpRequest, note_id: RowId) -> r.NoteOut:
    """It can be brought back."""
    return note_out(actions.set_note_removed(note_id, removed=True))


@router.post("/keep/notes/{note_id}/back", response={200: r.NoteOut, frozenset({400, 403, 404, 422}): Problem}, auth=FromOurPage(), summary="Bring a note back")  # fmt: skip
def note_back(request: HttpRequest, note_id: RowId) -> r.NoteOut:
    """With its date."""
    return note_out(actions.set_note_removed(note_id, removed=False))


@router.post("/keep/packs/{tag}/checks", response={200: r.LeftOut, frozenset({400, 403, 404, 422}): Problem}, auth=FromOurPage(), summary="A check by hand")  # fmt: skip
def check(request: HttpRequest, tag: str, data: r.CheckIn) -> r.LeftOut:
    """Cells, resistances, temperature, and what a charge put in; it can be taken back."""
    record, label = actions.check_pack(tag, data)
    return r.LeftOut(records=[record], label=label)


@router.put("/keep/packs/{tag}/retirement", response={200: r.RetirementOut, frozenset({400, 403, 404, 422}): Problem}, auth=FromOurPage(), summary="Steps of retiring")  # fmt: skip
def retirement(request: HttpRequest, tag: str, data: r.RetirementIn) -> r.RetirementOut:
    """With the last step the pack is retired; its history stays."""
    kept = actions.tick_retirement(tag, data.ticked)
    return r.RetirementOut(ticked=kept.ticked, retired=kept.done)


@router.get("/keep/packs/{tag}/to-storage", response={200: r.ToStorageOut, 404: Problem, 422: Problem}, summary="Ways to storage")  # fmt: skip
def to_storage(request: HttpRequest, tag: str, cells: str = "", model: str = "") -> r.ToStorageOut:
    """By its cells as read, else as the state it was left in lets one expect them."""
    return to_storage_out(tag, cells, model, timezone.now())


@router.get("/keep/tags", response={200: list[r.TagOut], 422: Problem}, summary="Printed tags")
def tags(request: HttpRequest, address: str = "") -> list[r.TagOut]:
    """A tag for each pack; its code opens the pack's page at this address of the program."""
    return tags_out(address or f"{request.scheme}://{request.get_host()}")


@router.get("/run/packs", response={200: list[r.RunPackOut], 404: Problem}, summary="Packs for a run")
def run_packs(request: HttpRequest, model: str) -> list[r.RunPackOut]:
    """Those that fit the model first, the readiest of them first; packs to be retired are left out."""
    return run_packs_out(model, timezone.now())


@router.post(
    "/run/go", response={200: r.GoOut, 400: Problem, 404: Problem, 422: Problem}, summary="Go or no go"
)
def go(request: HttpRequest, data: r.GoIn) -> r.GoOut:
    """This pack, as it reads, in this model today; timer, mAh and alarm."""
    return go_out(data, timezone.now())


@router.post(
    "/run/day", response={200: r.DayOut, 400: Problem, 404: Problem, 422: Problem}, summary="The day"
)
def day(request: HttpRequest, data: r.DayIn) -> r.DayOut:
    """So many packs in turn: when none is ready, and how many packs and ports would keep it going."""
    return day_out(data, timezone.now())


@router.get("/runs", response={200: r.RunsOut, 404: Problem}, summary="A model’s runs")
def runs(request: HttpRequest, model: str) -> r.RunsOut:
    """Newest first, at most fifty, with the average draw they teach."""
    return runs_out(model)


@router.post("/runs", response={200: r.RunOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Log a run")
def log_run(request: HttpRequest, data: r.RunIn) -> r.RunOut:
    """Kept once, however often it is sent."""
    return run_out(actions.log_run(data))


@router.post("/runs/{run_id}/put-back", response={200: r.RunOut, frozenset({400, 403, 404, 422}): Problem}, auth=FromOurPage(), summary="What a charge put back")  # fmt: skip
def put_back(request: HttpRequest, run_id: int, data: r.PutBackIn) -> r.RunOut:
    """Completes a run that was logged before it was charged."""
    return run_out(actions.put_back(run_id, data.put_back_mah))


@router.post("/runs/learn", response={200: r.LearnedOut, frozenset({400, 403, 404, 422}): Problem}, auth=FromOurPage(), summary="Take the draw from the log")  # fmt: skip
def learn(request: HttpRequest, model: str) -> r.LearnedOut:
    """The model’s job then has the average and its spread from its runs, and says so."""
    return actions.learn(model)


@router.delete("/runs/{key}", response={200: r.RunOut, frozenset({400, 403, 404, 422}): Problem}, auth=FromOurPage(), summary="Take a run away")  # fmt: skip
def remove_run(request: HttpRequest, key: RunKey) -> r.RunOut:
    """With what it said of its pack; it can be brought back, and is not kept again if it is sent again."""
    return run_out(actions.set_run_removed(key, removed=True))


@router.post("/runs/{key}/back", response={200: r.RunOut, frozenset({400, 403, 404, 422}): Problem}, auth=FromOurPage(), summary="Bring a run back")  # fmt: skip
def run_back(request: HttpRequest, key: RunKey) -> r.RunOut:
    """As it was."""
    return run_out(actions.set_run_removed(key, removed=False))


@router.get("/keep/log.json", summary="The log as JSON")
def log_out(request: HttpRequest) -> HttpResponse:
    """Records, runs and notes of every pack, in the versioned format of docs/formats.md."""
    return _file(log_json(timezone.now()), "application/json", "cold-stack-log.json")


@router.get("/keep/runs.csv", summary="The runs as CSV")
def runs_file(request: HttpRequest) -> HttpResponse:
    """For a spreadsheet."""
    return _file(runs_csv(), "text/csv; charset=utf-8", "cold-stack-runs.csv")


@router.get("/keep/records.csv", summary="The records as CSV")
def records_file(request: HttpRequest) -> HttpResponse:
    """For a spreadsheet."""
    return _file(records_csv(), "text/csv; charset=utf-8", "cold-stack-records.csv")


@router.post("/keep/log", response={200: LogImportOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Take a log in")  # fmt: skip
def log_in(request: HttpRequest, file: File[UploadedFile], store: Form[bool] = False) -> LogImportOut:
    """What is not there yet is added, all or nothing; without ``store`` it only says what would be."""
    if (file.size or 0) > LARGEST_FILE_BYTES:
        raise DomainError("file", f"The file has {(file.size or 0) / 1e6:.0f} MB; at most 32 MB can be read.")
    return take_log(read_log(file.read()), store=store)


@router.post("/keep/left", response={200: r.LeftOut, WRITTEN: Problem}, auth=FromOurPage(), summary="These packs were left in a state")  # fmt: skip
def left(request: HttpRequest, data: r.LeftIn) -> r.LeftOut:
    """All or none; it can be taken back."""
    records, label = actions.leave(data.packs, data.state)
    return r.LeftOut(records=records, label=label)


@router.post("/keep/left/undo", response={200: r.LeftOut, WRITTEN: Problem}, auth=FromOurPage(), summary="Take that back")  # fmt: skip
def unleft(request: HttpRequest, data: r.UnleftIn) -> r.LeftOut:
    """Only what was noted by hand."""
    actions.unleave(data.records)
    return r.LeftOut(records=[], label="Taken back")


def _file(text: str, kind: str, name: str) -> HttpResponse:
    reply = HttpResponse(text, content_type=kind)
    reply["Content-Disposition"] = f'attachment; filename="{name}"'
    return reply
