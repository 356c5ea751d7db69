"""The door devices come in by over HTTP: a token in, counts out. Nobody signs in here."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router
from ninja.security import HttpBearer

from server.common.allowance import MESSAGES, REQUESTS, STRANGERS, Allowance
from server.common.problems import CanopyError, problem, too_often
from server.common.schemas import Problem
from server.devices import selectors
from server.devices.adapters.messages import parcel_of
from server.devices.models import Device
from server.devices.schemas import CommandsOut, PricesTakenOut, TakenOut
from server.devices.services import intake, managing, pricing

MOST_BYTES = 262_144
MOST_PRICE_BYTES = 2_000_000

UNKNOWN = "This token is not known, or was revoked; make a new one on Devices."


class Strangers:
    """How many requests came with a token nobody knows, since this server started."""

    count = 0


class Token(HttpBearer):
    """The device whose token was sent."""

    def authenticate(self, request: HttpRequest, token: str) -> Device | None:
        """Return it; none for a token that is not known."""
        return selectors.device_by_token(managing.hashed(token))

    def __call__(self, request: HttpRequest) -> Any:
        """Return the device, or the refusal as a response that the endpoint sends."""
        return super().__call__(request) or _stranger(request)


def _stranger(request: HttpRequest) -> HttpResponse:
    Strangers.count += 1
    wait = STRANGERS.wait_s(request.META.get("REMOTE_ADDR", ""))
    return too_often(wait) if wait else problem(401, "Not known", UNKNOWN)


router = Router(auth=Token(), tags=["door"])
REFUSED: dict[int, Any] = dict.fromkeys((401, 413, 422, 429, 503), Problem)
MESSAGE = {"application/json": {"schema": {"anyOf": [{"type": "object"}, {"type": "array"}]}}}


def _let_in(
    request: HttpRequest, most_bytes: int, allowance: Allowance = REQUESTS
) -> tuple[Device | None, HttpResponse | None]:
    """Return the device that asks, or why it may not now."""
    device = request.auth  # type: ignore[attr-defined]
    if not isinstance(device, Device):
        return None, device
    wait = allowance.wait_s(device.pk)
    if wait:
        return None, too_often(wait)
    if len(request.body) > most_bytes:
        return None, problem(
            413, "Too large", f"More than {most_bytes:,} bytes; send less at once."
        )
    return device, None


@router.post(
    "",
    response={200: TakenOut, **REFUSED},
    openapi_extra={"requestBody": {"content": MESSAGE, "required": True}},
)
def take(request: HttpRequest) -> Any:
    """Take in a message, or an array of up to 500; docs/formats/device.md."""
    device, refusal = _let_in(request, MOST_BYTES)
    if device is None:
        return refusal
    now = timezone.now()
    try:
        parcel = parcel_of(request.body, now)
    except CanopyError as error:
        intake.refuse_unread(device.pk, error.sentence, now)
        raise
    wait = MESSAGES.wait_s(device.pk, max(parcel.count, 1))
    if wait:
        return too_often(wait)
    taken = intake.take_in(device, parcel, now)
    answer = TakenOut.model_validate(taken, from_attributes=True)
    if taken.refused and not taken.taken and not taken.doubled:
        first = taken.refused[0].sentence
        return problem(422, "Nothing was taken", first, answer.complaints())
    return answer


@router.get("", response={200: CommandsOut, **REFUSED})
def ask(request: HttpRequest) -> Any:
    """What the device is to do; given until it shows that it has."""
    device, refusal = _let_in(request, MOST_BYTES)
    if device is None:
        return refusal
    waiting = [] if device.paused else selectors.waiting_commands(device)
    managing.given(waiting, timezone.now())
    return {"commands": [{"id": each.pk, **each.body} for each in waiting]}


@router.post(
    "/prices",
    response={200: PricesTakenOut, **REFUSED},
    openapi_extra={
        "requestBody": {"content": {"text/csv": {"schema": {"type": "string"}}}, "required": True}
    },
)
def take_prices(request: HttpRequest) -> Any:
    """Take in a price file: its hours join those the feed's space has."""
    device, refusal = _let_in(request, MOST_PRICE_BYTES)
    if device is None:
        return refusal
    now = timezone.now()
    text = request.body.decode("utf-8", errors="replace")
    try:
        hours = pricing.take_prices(device, text, now)
    except CanopyError as error:
        intake.refuse_unread(device.pk, error.sentence, now)
        raise
    return {"hours": hours}
