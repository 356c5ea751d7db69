"""The one page of the interface."""

from functools import cache

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

MISSING = b"The interface is not built yet. Run: make setup"


@cache
def _markup(changed_ns: int) -> bytes:
    """Return the page's bytes; the key makes a rebuilt page show without a restart."""
    return (settings.WEB / "index.html").read_bytes()


@require_safe
@never_cache
def health(request: HttpRequest) -> HttpResponse:
    """Say whether the application answers and its database can be read."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1 FROM accounts_grower LIMIT 1")
    except DatabaseError:
        return HttpResponse(b"the database cannot be read\n", status=503, content_type="text/plain")
    return HttpResponse(b"well\n", content_type="text/plain")


@require_safe
@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """Return the built page, with the CSRF cookie set."""
    try:
        changed_ns = (settings.WEB / "index.html").stat().st_mtime_ns
    except FileNotFoundError:
        return HttpResponse(MISSING, status=503, content_type="text/plain")
    return HttpResponse(_markup(changed_ns))
