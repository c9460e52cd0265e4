"""Files of gear in and out."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Router
from ninja.files import UploadedFile

from coldstack.core.errors import DomainError
from coldstack.server.api.access import FromOurPage
from coldstack.server.api.errors import Problem
from coldstack.server.gear import progress as waiting
from coldstack.server.gear import schemas as s
from coldstack.server.gear.exports import csv_text, json_schema, json_text
from coldstack.server.gear.file_reading import CSV_KINDS, read_file
from coldstack.server.gear.imports import SHOWN_PROBLEMS, Plan, plan_import, store
from coldstack.server.gear.kinds import KINDS
from coldstack.server.gear.models import Change
from coldstack.server.gear.templates import template_text
from coldstack.server.worlds.backup import backup_bytes

router = Router(tags=["files"])
LARGEST_FILE_BYTES = 32 * 1024 * 1024
REFUSALS = frozenset({400, 403, 422})


@router.get("/files/gear.json", summary="Everything as JSON")
def export_json(request: HttpRequest) -> HttpResponse:
    """The versioned format of docs/formats.md."""
    return _file(json_text(timezone.now()), "application/json", "cold-stack-gear.json")


@router.get("/files/{kind}.csv", response={200: None, 422: Problem}, summary="One kind as CSV")
def export_csv(request: HttpRequest, kind: str) -> HttpResponse:
    """Packs, catalogue or cells; anything else is refused."""
    if kind not in CSV_KINDS:
        raise DomainError(
            "kind", f"CSV is written for {', '.join(CSV_KINDS)}; everything else goes out as JSON."
        )
    return _file(csv_text(KINDS[kind]), "text/csv; charset=utf-8", f"cold-stack-{kind}.csv")


@router.get(
    "/files/templates/{kind}.csv", response={200: None, 422: Problem}, summary="A template of one kind"
)
def template(request: HttpRequest, kind: str) -> HttpResponse:
    """Columns in the form's words and a few rows that show what belongs in them."""
    if kind not in CSV_KINDS:
        raise DomainError("kind", f"There are templates for {', '.join(CSV_KINDS)}.")
    return _file(template_text(kind), "text/csv; charset=utf-8", f"cold-stack-{kind}-template.csv")


@router.get("/files/backup.sqlite3", auth=FromOurPage(reading=True), summary="The whole database as one file")
def backup(request: HttpRequest) -> HttpResponse:
    """One moment of it, also while it is written to. `manage.py restore` puts it into an empty place."""
    return _file(backup_bytes(), "application/vnd.sqlite3", f"cold-stack-{timezone.now():%Y-%m-%d}.sqlite3")


@router.get("/files/gear.schema.json", summary="JSON Schema of the format")
def schema(request: HttpRequest) -> dict[str, object]:
    """Made from the shapes that imports are checked by."""
    return json_schema()


@router.post(
    "/files/preview",
    auth=None,
    response={200: s.ImportOut, REFUSALS: Problem},
    summary="What an import would do",
)
def preview(
    request: HttpRequest, file: File[UploadedFile], kind: Form[str] = "packs", token: Form[str] = ""
) -> s.ImportOut:
    """Nothing is stored. Every row that cannot be taken is named, with its field and why."""
    try:
        return _out(_planned(file, kind, waiting.begin(token)))
    except waiting.Stopped:
        raise DomainError("file", "Stopped before it was checked.") from None


@router.post(
    "/files/import",
    response={200: s.ImportOut, REFUSALS: Problem},
    summary="Import a file",
)
def import_file(
    request: HttpRequest, file: File[UploadedFile], kind: Form[str] = "packs", token: Form[str] = ""
) -> s.ImportOut:
    """All or nothing, in one transaction; with a row that cannot be taken nothing is stored.

    It can be undone.
    """
    progress = waiting.begin(token)
    try:
        plan = _planned(file, kind, progress)
        if plan.troubles:
            return _out(plan)
        return _out(plan, store(plan, file.name or "a file", progress))
    except waiting.Stopped:
        raise DomainError("file", "The import was stopped; nothing was stored.") from None


@router.get(
    "/files/progress/{token}", response={200: s.ProgressOut, 404: Problem}, summary="How far an import is"
)
def how_far(request: HttpRequest, token: str) -> s.ProgressOut:
    """By the token that came with the import."""
    progress = waiting.of(token)
    if progress is None:
        return s.ProgressOut(phase="waiting", done=0, total=0)
    return s.ProgressOut(phase=progress.phase, done=progress.done, total=progress.total)


@router.post(
    "/files/progress/{token}/stop",
    response={200: s.ProgressOut, 403: Problem},
    summary="Stop an import",
)
def stop(request: HttpRequest, token: str) -> s.ProgressOut:
    """It ends at its next step, and nothing of it is stored; one whose file is still on its way, at its
    first."""
    waiting.stop(token)
    return how_far(request, token)


def _planned(file: UploadedFile, kind: str, progress: waiting.Progress) -> Plan:
    if (file.size or 0) > LARGEST_FILE_BYTES:
        raise DomainError("file", f"The file has {(file.size or 0) / 1e6:.0f} MB; at most 32 MB can be read.")
    found = read_file(file.name or "", file.read(), kind)
    plan = plan_import(found.rows, progress)
    plan.notes = [*found.notes, *plan.notes]
    return plan


def _out(plan: Plan, change: Change | None = None) -> s.ImportOut:
    return s.ImportOut(
        rows=plan.rows,
        added=len(plan.add),
        changed=len(plan.change),
        same=plan.same,
        problems=[
            s.ProblemRow(place=t.place, field=t.field, message=t.message)
            for t in plan.troubles[:SHOWN_PROBLEMS]
        ],
        problem_count=len(plan.troubles),
        samples=plan.samples,
        notes=plan.notes,
        change=s.ChangeOut.of(change) if change else None,
    )


def _file(text: str | bytes, kind: str, name: str) -> HttpResponse:
    reply = HttpResponse(text, content_type=kind)
    reply["Content-Disposition"] = f'attachment; filename="{name}"'
    return reply
