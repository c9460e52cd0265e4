"""Sessions of paired phones that came in since the server began: what a listener can ask before it takes more
of a request than its head."""

from __future__ import annotations

from http.cookies import CookieError, SimpleCookie
from threading import Lock

from django.conf import settings

MOST = 1000
"""No household has so many phones; who comes after is asked for a small request first."""
_known: set[str] = set()
_lock = Lock()


def remember(session_key: str | None) -> None:
    """The gate let this session in."""
    with _lock:
        if session_key and len(_known) < MOST:
            _known.add(session_key)


def came_in(cookies: str) -> bool:
    """Whether a request with this Cookie header is of a session that was let in before."""
    try:
        said = SimpleCookie(cookies).get(settings.SESSION_COOKIE_NAME)
    except CookieError:
        return False
    with _lock:
        return said is not None and said.value in _known
