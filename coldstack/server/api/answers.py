"""Middleware around all answers: only for hosts that are ours, and under /api every refusal in one shape."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

from coldstack.server.api.errors import problem

GetResponse = Callable[[HttpRequest], HttpResponse]

WORDS = {
    400: ("Refused", "This program does not answer at that address. Open it by the address that it told."),
    404: ("Not found", "There is nothing at this address."),
    405: ("Not possible", "That cannot be done at this address."),
}


class KnownHosts:
    """Refuses requests for hosts that are not ours, those for files included."""

    def __init__(self, get_response: GetResponse) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Raises DisallowedHost, which Django answers with 400."""
        request.get_host()
        return self.get_response(request)


class ProblemsInWords:
    """Turns what Django itself refuses under /api into a problem like any other."""

    def __init__(self, get_response: GetResponse) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answers of our own pass as they are."""
        reply = self.get_response(request)
        ours = "json" in reply.get("Content-Type", "")
        if ours or reply.status_code not in WORDS or not request.path.startswith("/api"):
            return reply
        title, words = WORDS[reply.status_code]
        made = problem(reply.status_code, title, words)
        if "Allow" in reply:
            made["Allow"] = reply["Allow"]
        return made


class Compressed(GZipMiddleware):
    """Answers of words and figures, compressed; the program's files are so on the disk, or cannot be.

    What compresses beside something secret tells of it by its length (BREACH): Django pads each answer by
    chance, and no answer holds a secret beside what a stranger may have put into the request.
    """

    WORDS = ("application/json", "application/problem+json", "text/csv", "text/calendar")

    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        """As it was where it is neither JSON nor a table."""
        if not response.get("Content-Type", "").startswith(self.WORDS):
            return response
        return super().process_response(request, response)
