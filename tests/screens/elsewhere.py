"""Other machines, for tests of one: a header of the browser says where it stands."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse

HEADER = "X-Test-From"
MIDDLEWARE = ["tests.screens.elsewhere.Elsewhere", *settings.MIDDLEWARE]


class Elsewhere:
    """Takes the socket's address from the header, which no real server does."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """As if it came from there."""
        request.META["REMOTE_ADDR"] = request.headers.get(HEADER, request.META["REMOTE_ADDR"])
        return self.get_response(request)
