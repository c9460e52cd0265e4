"""Who may write: the program's own page, on the person's own machine."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja.security import APIKeyCookie

SAFE = ("GET", "HEAD", "OPTIONS")


class FromOurPage(APIKeyCookie):
    """Writing is for our own page: the CSRF token must come with it.

    There is no login on a person's own machine. It holds for the whole API; reading is open to scripts, and
    so are routes that compute and store nothing, which say ``auth=None``.
    """

    param_name = "csrftoken"

    def __call__(self, request: HttpRequest) -> Any:
        """Reading needs no token."""
        return request.method in SAFE or super().__call__(request)

    def authenticate(self, request: HttpRequest, key: str | None) -> bool:
        """The token itself was checked before."""
        return True
