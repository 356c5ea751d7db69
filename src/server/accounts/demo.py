"""The demo grower signs in by itself, on this machine only."""

from collections.abc import Callable
from ipaddress import ip_address

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from server.accounts.models import Grower
from server.accounts.services import enter

DEMO_NAME = "Demo grower"
FORWARDED = {
    "HTTP_FORWARDED",
    "HTTP_VIA",
    "HTTP_X_FORWARDED_BY",
    "HTTP_X_FORWARDED_FOR",
    "HTTP_X_FORWARDED_HOST",
    "HTTP_X_FORWARDED_PROTO",
    "HTTP_X_REAL_IP",
}
"""What proxies add to a request they pass on."""


def _from_this_machine(request: HttpRequest) -> bool:
    """Whether the request came over loopback and was addressed to it by name."""
    try:
        local = ip_address(request.META.get("REMOTE_ADDR", "")).is_loopback
    except ValueError:
        return False
    host = request.get_host()
    name = host if host.endswith("]") else host.rsplit(":", 1)[0] if ":" in host else host
    passed_on = FORWARDED & request.META.keys()
    return local and name in settings.LOOPBACK_HOSTS and not passed_on


class DemoSignIn:
    """Middleware: in a demo, a visitor on loopback is the demo grower until they sign out."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if (
            settings.DEMO
            # devices come with a token of their own, and want no session
            and "HTTP_AUTHORIZATION" not in request.META
            and not request.user.is_authenticated
            and not request.session.get("stays_out")
            and _from_this_machine(request)
        ):
            grower = Grower.objects.filter(is_demo=True).first()
            if grower is not None:
                enter(request, grower)
        return self.get_response(request)
