"""Who may write: the program's own page, in hands that may."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja.errors import HttpError
from ninja.security import APIKeyCookie

from coldstack.server.pairing.gate import Hands, hands_of

SAFE = ("GET", "HEAD", "OPTIONS")
LOOK_ONLY = "This phone may look only. At the computer, in Bring a phone, it can be paired for everything."


class FromOurPage(APIKeyCookie):
    """Writing is for our own page, in hands that may do everything: the CSRF token must come with it.

    There is no login on a person's own machine. It holds for the whole API; reading is open to scripts, and
    so are routes that compute and store nothing, which say ``auth=None``. Where reading gives everything
    away at once (``reading=True``) it asks for the same hands.
    """

    param_name = "csrftoken"

    def __init__(
        self,
        *,
        hands: tuple[Hands, ...] = ("here", "everything"),
        words: str = LOOK_ONLY,
        reading: bool = False,
    ) -> None:
        super().__init__()
        self.hands, self.words, self.reading = hands, words, reading

    def __call__(self, request: HttpRequest) -> Any:
        """Reading needs no token. Raises HttpError (403) for hands that may not."""
        safe = request.method in SAFE
        if (not safe or self.reading) and hands_of(request) not in self.hands:
            raise HttpError(403, self.words)
        return safe or super().__call__(request)

    def authenticate(self, request: HttpRequest, key: str | None) -> bool:
        """The token itself was checked before."""
        return True
