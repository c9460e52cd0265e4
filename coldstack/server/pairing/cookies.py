"""Where phones come over TLS, this machine itself still comes over a plain line to itself."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse


class PlainOnLoopback:
    """Takes the Secure mark off cookies that go over the plain line on loopback: there some browsers would
    not send them back. The other listener speaks TLS only."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Cookies of secure requests stay as they are."""
        response = self.get_response(request)
        if not request.is_secure():
            for cookie in response.cookies.values():
                cookie["secure"] = ""
        return response
