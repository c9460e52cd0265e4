"""All errors leave through here, in one shape: problem+json with a message for each field."""

from __future__ import annotations

import json
import logging
from typing import Any

from django.conf import settings
from django.core.exceptions import ObjectDoesNotExist, RequestDataTooBig, SuspiciousOperation
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from pydantic import BaseModel
from pydantic import ValidationError as ShapeError

from coldstack.core.errors import DomainError, SeveralErrors
from coldstack.core.units import with_unit
from coldstack.server.api.shapes import unit_by_name
from coldstack.server.api.versions import ChangedElsewhere


class FieldProblem(BaseModel):
    """What is wrong with one field, in the user's words; ``field`` is its dotted path in the request."""

    field: str
    message: str


class Problem(BaseModel):
    """An error reply (RFC 9457)."""

    title: str
    status: int
    detail: str
    errors: list[FieldProblem] = []


def problem(status: int, title: str, detail: str, errors: list[dict[str, str]] | None = None) -> HttpResponse:
    """The reply for an error."""
    body = {"title": title, "status": status, "detail": detail, "errors": errors or []}
    return JsonResponse(body, status=status, content_type="application/problem+json")


STALE_PAGE = "The page is older than the server. Reload it and try again."


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Django's refusal of an unsafe request without its token."""
    return problem(403, "Refused", STALE_PAGE)


def install(api: NinjaAPI) -> None:
    """Hang the handlers on the API."""
    for kind, handler in (
        (DomainError, _domain),
        (ValidationError, _invalid),
        (ShapeError, _invalid),
        (HttpError, _http),
        (Http404, _missing),
        (ObjectDoesNotExist, _missing),
        (OperationalError, _not_stored),
        (RequestDataTooBig, _too_big),
        (OverflowError, _too_large),
        (MultiPartParserError, _no_form),
        (SuspiciousOperation, _no_form),
        (UnreadablePostError, _no_form),
        (ChangedElsewhere, _changed),
        (Exception, _unexpected),
    ):
        api.add_exception_handler(kind, handler)  # type: ignore[arg-type]  # of its kind


def _domain(request: HttpRequest, error: DomainError) -> HttpResponse:
    every = error.errors if isinstance(error, SeveralErrors) else [error]
    told = [{"field": e.field, "message": e.sentence} for e in every]
    detail = error.sentence if len(every) == 1 else f"{len(every)} fields need attention."
    return problem(422, "Not possible", detail, told)


def _invalid(request: HttpRequest, error: ValidationError | ShapeError) -> HttpResponse:
    body = _body(request)
    # ninja keeps its faults as a list, pydantic makes them when asked
    faults = [dict(e) for e in (error.errors if isinstance(error, ValidationError) else error.errors())]
    errors = [{"field": _path(e), "message": words_of(e, _given(body, e))} for e in faults]
    detail = errors[0]["message"] if len(errors) == 1 else f"{len(errors)} fields need attention."
    return problem(422, "Not understood", detail, errors)


def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
    title = "Not understood" if error.status_code == 400 else "Refused"
    words = str(error)
    if error.status_code == 403 and "CSRF" in words:
        words = STALE_PAGE
    if error.status_code == 400 and words.startswith("Cannot parse request body"):
        words = "The request is not valid JSON."
    return problem(error.status_code, title, words)


def _missing(request: HttpRequest, error: Exception) -> HttpResponse:
    return problem(404, "Not found", "There is nothing at this address.")


def _not_stored(request: HttpRequest, error: OperationalError) -> HttpResponse:
    logging.getLogger("coldstack").exception("the database at %s", request.path)
    words = (
        "It could not be stored: is the disk full, or its folder read-only? What was saved stays. Try again."
    )
    return problem(507, "Not stored", words)


def _too_big(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE // (1024 * 1024)
    return problem(413, "Too much", f"That is more than {most} MB at once.")


def _no_form(request: HttpRequest, error: Exception) -> HttpResponse:
    words = "The form of this request cannot be read: it ends early, or its boundary is missing or foreign."
    return problem(400, "Not understood", words)


def _too_large(request: HttpRequest, error: OverflowError) -> HttpResponse:
    words = "A number or a date in this is larger than anything we can reckon with."
    return problem(422, "Not possible", words)


def _changed(request: HttpRequest, error: ChangedElsewhere) -> HttpResponse:
    words = "It was changed elsewhere since: in another tab, or on another device. Nothing was overwritten."
    return problem(412, "Changed elsewhere", words)


def _unexpected(request: HttpRequest, error: Exception) -> HttpResponse:
    logging.getLogger("coldstack").exception("unexpected error at %s", request.path)
    words = "Something went wrong on the server. Nothing that was saved is lost."
    return problem(500, "Our fault", words)


def _path(error: dict[str, Any]) -> str:
    """The field without the words for where in the request it stood, and without our parameter's name."""
    parts = [str(p) for p in error.get("loc", ())]
    if parts and parts[0] in ("body", "query", "path", "file", "form"):
        parts = parts[1:]
    if parts and parts[0] == "data":
        parts = parts[1:]
    return ".".join(parts)


def _body(request: HttpRequest) -> Any:
    """The request's JSON, to quote what was given; None for forms and for what is no JSON."""
    if request.content_type != "application/json":
        return None
    try:
        return json.loads(request.body)
    except (ValueError, RecursionError, RequestDataTooBig):
        return None


def _given(body: Any, error: dict[str, Any]) -> Any:
    """What stood at the error's place."""
    for part in _path(error).split("."):
        if isinstance(body, dict):
            body = body.get(part)
        elif isinstance(body, list) and part.isdigit() and int(part) < len(body):
            body = body[int(part)]
        else:
            return None
    return body


_BOUNDS = {
    "less_than_equal": ("le", "At most"),
    "greater_than_equal": ("ge", "At least"),
    "less_than": ("lt", "Less than"),
    "greater_than": ("gt", "More than"),
}


def words_of(error: dict[str, Any], given: Any) -> str:
    """A fault of shape in a person’s words."""
    kind = error.get("type", "")
    limits = error.get("ctx", {})
    if kind == "missing":
        return "This field is needed."
    if kind == "extra_forbidden":
        return "There is no such field."
    if kind in ("float_parsing", "float_type", "int_parsing", "int_type", "int_from_float"):
        what = "a whole number" if kind.startswith("int") else "a number"
        if given is None or given == "":
            return f"Enter {what}."
        return f"“{str(given)[:40]}” is not {what}."
    if kind == "finite_number":
        return "Enter a number; NaN and infinity are none."
    if kind in _BOUNDS:
        limit, words = _BOUNDS[kind]
        unit = unit_by_name(_path(error).rsplit(".", 1)[-1])
        unit = "" if unit == "C" else unit  # a rate is a bare number in a sentence
        return f"{words} {with_unit(format(limits.get(limit, 0), 'g'), unit)} is possible."
    if kind in ("literal_error", "enum"):
        return f"Choose one of {limits.get('expected', 'the listed values')}."
    if kind == "string_too_short":
        return "This field is needed."
    if kind == "string_too_long":
        return f"At most {limits.get('max_length')} characters are possible."
    if kind in ("too_long", "list_too_long"):
        return f"At most {limits.get('max_length')} entries are possible."
    return str(error.get("msg", "This cannot be used.")).removeprefix("Value error, ")
