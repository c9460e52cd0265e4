"""How the screens' tests are served: answers of the untouched demo are kept, and may be made to come late."""

from __future__ import annotations

import sqlite3
from io import BytesIO
from threading import Condition, Lock

from tests.demo_world import database_path
from tests.screens.slowly import slowly

COMPUTED = ("/api/sizing/", "/api/match", "/api/rules/sets/", "/api/keep/", "/api/gear/")
COMPUTED += ("/api/models", "/api/model-kinds", "/api/choices", "/api/safety", "/api/rules", "/api/runs")
"""What depends on what is stored alone: not on devices, phones, who asks, or the second of the day."""


class Kept:
    """Answers by request, as long as nothing was written since the demo's world was put back.

    A plan takes half a second and is the same in thirty tests. Whatever SQLite tells to have been written,
    by whom it may be, ends this until the world is put back again.
    """

    def __init__(self) -> None:
        self._lock, self._looking, self._untouched = Lock(), None, None
        self._answers: dict[tuple[str, str, bytes], tuple[str, list, bytes]] = {}

    def begin(self, world: str) -> None:
        """A world was put back: from here on its answers hold; the demo's alone are kept."""
        with self._lock:
            self._looking = self._looking or sqlite3.connect(database_path(), check_same_thread=False)
            self._untouched = self._version() if world == "demo" else None

    def _version(self) -> int:
        return self._looking.execute("PRAGMA data_version").fetchone()[0]

    def holds(self) -> bool:
        """Whether nothing was written since."""
        with self._lock:
            return self._untouched is not None and self._version() == self._untouched

    def serve(self, application):
        """The application, asked once for what it answered before."""

        def answer(environ, start_response):
            path, method = environ["PATH_INFO"], environ["REQUEST_METHOD"]
            computed = path.startswith(COMPUTED) and method in ("GET", "POST")
            if not computed or not self.holds():
                return application(environ, start_response)
            body = environ["wsgi.input"].read(int(environ.get("CONTENT_LENGTH") or 0))
            environ["wsgi.input"] = BytesIO(body)
            key = (method, f"{path}?{environ.get('QUERY_STRING', '')}", body)
            if key in self._answers:
                status, headers, content = self._answers[key]
                start_response(status, headers)
                return [content]
            said: list = []
            reply = application(environ, lambda *given: said.append(given) or start_response(*given))
            content = b"".join(reply)
            if hasattr(reply, "close"):
                reply.close()
            plain = said[0][0].startswith("200") and not any(h.lower() == "set-cookie" for h, _ in said[0][1])
            if plain and self.holds():
                self._answers[key] = (*said[0][:2], content)
            return [content]

        return answer


class InFlight:
    """Requests that are being answered: what a page still sent as its test ended is done before the next
    one's world is put back."""

    def __init__(self) -> None:
        self._count, self._changed = 0, Condition()

    def over(self) -> None:
        """Wait until none is left."""
        with self._changed:
            assert self._changed.wait_for(lambda: self._count == 0, timeout=60), "a request never ends"

    def counted(self, application):
        """The application, counting what it is asked until it has answered."""

        def answer(environ, start_response):
            self._more(1)
            try:
                return application(environ, start_response)
            finally:
                self._more(-1)

        return answer

    def _more(self, by: int) -> None:
        with self._changed:
            self._count += by
            self._changed.notify_all()


KEPT, IN_FLIGHT = Kept(), InFlight()


def served(application):
    """The application itself with what is kept of it, its answers late where that is asked for."""
    return IN_FLIGHT.counted(slowly(KEPT.serve(application)))
