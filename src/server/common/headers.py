"""What every answer says beside itself: who may keep it, and what a page of ours may use."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

PERMISSIONS = ", ".join(
    f"{name}=()"
    for name in (
        "accelerometer",
        "autoplay",
        "camera",
        "display-capture",
        "geolocation",
        "gyroscope",
        "magnetometer",
        "microphone",
        "midi",
        "payment",
        "usb",
    )
)
"""Nothing here films, hears or finds anyone; photos are chosen in a file field."""


class Headers:
    """Middleware: answers of the API are kept by no one, and pages may use no device."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers.setdefault("Permissions-Policy", PERMISSIONS)
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response
