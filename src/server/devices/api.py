"""The Devices place."""

from typing import Annotated, Any

from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router, Status
from ninja.security import django_auth
from pydantic import Field

from server.accounts.api import grower_of
from server.common.schemas import CHANGES, PROBLEMS, Id, RemovedIn
from server.common.versions import IdempotencyKey, IfMatch, expected, key_of, shown_by
from server.devices import broker, selectors
from server.devices.adapters.messages import QuantityName, unit_of_quantity
from server.devices.door import Strangers
from server.devices.models import Device
from server.devices.schemas import (
    CommandOut,
    CurveOut,
    DeviceIn,
    DeviceOut,
    DeviceSettingIn,
    DoorOut,
    HandIn,
    HandOut,
    MadeOut,
    PausedIn,
    TopicIn,
    WatchedOut,
)
from server.devices.services import intake, managing, watching
from server.devices.simulated.hand import Hand, hands
from server.runs.selectors import run_of
from server.spaces.selectors import space_of

router = Router(auth=django_auth)
shown_by(Device, DeviceOut.of)

MOST_HOURS = 24 * 366 * 2


@router.get("", response={200: list[DeviceOut], **PROBLEMS})
def devices(request: HttpRequest) -> list[DeviceOut]:
    """The grower's devices with their newest readings."""
    return [DeviceOut.of(row) for row in selectors.devices_of(grower_of(request))]


@router.post("", response={201: MadeOut, **PROBLEMS})
def add_device(request: HttpRequest, payload: DeviceIn) -> Status[MadeOut]:
    """Add a device; its token is told this once."""
    device, token = managing.add_device(grower_of(request), payload.model_dump())
    return Status(201, MadeOut(device=DeviceOut.of(device), token=token))


@router.get("/door", response={200: DoorOut, **PROBLEMS})
def door(request: HttpRequest) -> DoorOut:
    """Where devices come in, and what arrives through the broker, if this grower's is known."""
    shown = broker.shown_to(grower_of(request))
    return DoorOut(path="/api/door", now=timezone.now(), strangers=Strangers.count, broker=shown)


@router.get("/watch", response={200: WatchedOut, **PROBLEMS})
def watch(request: HttpRequest, run_id: Query[Id]) -> Any:
    """What the devices of a plan say today."""
    return watching.watch(run_of(grower_of(request), run_id))


@router.post("/hand", response={200: HandOut, **PROBLEMS})
def carry_sensor(request: HttpRequest, payload: HandIn) -> HandOut:
    """Take the simulated light sensor to a spot; real ones are carried."""
    space = space_of(grower_of(request), payload.space_id)
    values = payload.model_dump(exclude={"space_id"})
    return HandOut(carried=hands.hold(space.pk, Hand(**values)))


@router.put("/{int:device_id}", response={200: DeviceOut, **CHANGES})
def change_device(
    request: HttpRequest, device_id: int, payload: DeviceIn, if_match: IfMatch = None
) -> DeviceOut:
    """Call a device otherwise, or say where it belongs."""
    device = selectors.device_of(grower_of(request), device_id)
    values = payload.model_dump()
    return DeviceOut.of(managing.change_device(device, values, expected(if_match)))


@router.put("/{int:device_id}/paused", response={200: DeviceOut, **CHANGES})
def pause(
    request: HttpRequest, device_id: int, payload: PausedIn, if_match: IfMatch = None
) -> DeviceOut:
    """Keep nothing of what a device sends for a while, or take it in again."""
    device = selectors.device_of(grower_of(request), device_id)
    return DeviceOut.of(managing.pause(device, payload.paused, expected(if_match)))


@router.put("/{int:device_id}/aside", response={200: DeviceOut, **CHANGES})
def put_away(
    request: HttpRequest, device_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> DeviceOut:
    """Put a device away with its token, or bring it back without one."""
    device = selectors.device_of(grower_of(request), device_id)
    return DeviceOut.of(managing.put_away(device, payload.removed, expected(if_match)))


@router.put("/{int:device_id}/token", response={200: MadeOut, **CHANGES})
def new_token(request: HttpRequest, device_id: int, if_match: IfMatch = None) -> MadeOut:
    """Make a new token, told this once; the one before is dead at once."""
    device = selectors.device_of(grower_of(request), device_id)
    device, token = managing.new_token(device, expected(if_match))
    return MadeOut(device=DeviceOut.of(device), token=token)


@router.delete("/{int:device_id}/token", response={200: DeviceOut, **CHANGES})
def revoke(request: HttpRequest, device_id: int, if_match: IfMatch = None) -> DeviceOut:
    """Take a device's token away."""
    device = selectors.device_of(grower_of(request), device_id)
    return DeviceOut.of(managing.revoke(device, expected(if_match)))


@router.put("/{int:device_id}/topic", response={200: DeviceOut, **CHANGES})
def map_topic(
    request: HttpRequest, device_id: int, payload: TopicIn, if_match: IfMatch = None
) -> DeviceOut:
    """Say at which MQTT topic a device speaks; for the grower whose broker it is."""
    grower = grower_of(request)
    broker.check_theirs(grower)
    device = selectors.device_of(grower, device_id)
    return DeviceOut.of(managing.map_topic(device, payload.topic, expected(if_match)))


@router.get("/{int:device_id}/curve", response={200: CurveOut, **PROBLEMS})
def curve(
    request: HttpRequest,
    device_id: int,
    quantity: Query[QuantityName],
    channel: Annotated[int, Field(ge=1, le=8)] = 1,
    hours: Annotated[float, Field(gt=0, le=MOST_HOURS)] = 24,
) -> CurveOut:
    """A series over the last hours, in few points."""
    device = selectors.device_of(grower_of(request), device_id)
    series = selectors.series_of(device, quantity, channel)
    until = intake.ms_of(timezone.now())
    since = until - int(hours * 3_600_000)
    found = watching.curve(series, since, until)
    unit = unit_of_quantity(quantity)
    return CurveOut(unit=unit, since_ms=since, until_ms=until, **vars(found))


@router.get("/{int:device_id}/commands", response={200: list[CommandOut], **PROBLEMS})
def commands(request: HttpRequest, device_id: int) -> Any:
    """What a device was told last, the newest first."""
    device = selectors.device_of(grower_of(request), device_id)
    return device.commands.order_by("-id")[:20]


@router.post("/{int:device_id}/schedule", response={201: CommandOut, **PROBLEMS})
def send_schedule(
    request: HttpRequest, device_id: int, run_id: Query[Id], idempotency_key: IdempotencyKey = None
) -> Any:
    """Tell a controller a plan's times of today."""
    grower = grower_of(request)
    device = selectors.device_of(grower, device_id)
    made = watching.send_plan(device, run_of(grower, run_id), key_of(idempotency_key))
    return Status(201, made)


@router.post("/{int:device_id}/setting", response={201: CommandOut, **PROBLEMS})
def send_setting(
    request: HttpRequest,
    device_id: int,
    payload: DeviceSettingIn,
    idempotency_key: IdempotencyKey = None,
) -> Any:
    """Tell a device to set its switch or its output."""
    device = selectors.device_of(grower_of(request), device_id)
    made = managing.tell_setting(
        device, payload.quantity, payload.value, payload.channel, key_of(idempotency_key)
    )
    return Status(201, made)
