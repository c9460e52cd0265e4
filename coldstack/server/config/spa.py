"""The page that carries the screens."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe


@require_safe
@never_cache
@ensure_csrf_cookie
def spa(request: HttpRequest) -> HttpResponse:
    """The built index page with this request's nonce; any address that is neither API nor static file leads
    here."""
    index = settings.BASE_DIR / "coldstack" / "web_dist" / "index.html"
    if not index.is_file():
        return HttpResponse(
            "The screens are not built yet: run “make build”.",
            status=503,
            content_type="text/plain; charset=utf-8",
        )
    page = index.read_text(encoding="utf-8").replace("__CSP_NONCE__", str(request.csp_nonce))  # type: ignore[attr-defined]
    return HttpResponse(page)
