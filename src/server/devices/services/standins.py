"""The demo's stand-ins as rows: devices like any other, marked as simulated."""

from typing import Any

from server.accounts.models import Grower
from server.devices.models import Device
from server.devices.services.managing import add_device, map_topic, new_token
from server.spaces.models import Space

STAND_INS: tuple[dict[str, Any], ...] = (
    {"name": "Socket meter", "kind": "meter"},
    {"name": "Timer and dimmer", "kind": "controller", "off_above_c": 31.0},
    {"name": "Thermometer", "kind": "thermometer"},
    {"name": "Light sensor", "kind": "light"},
)
PRICE_FEED: dict[str, Any] = {"name": "Price feed", "kind": "prices"}


def add_stand_ins(grower: Grower, tent: Space, shelf: Space | None) -> None:
    """Add the stand-ins of a tent, and a price feed for a shelf; once and never again."""
    if Device.objects.of(grower).filter(simulated=True).exists():
        return
    wanted = [(values, tent) for values in STAND_INS]
    wanted += [] if shelf is None else [(PRICE_FEED, shelf)]
    for values, space in wanted:
        made, _ = add_device(grower, {**values, "space_id": space.pk})
        Device.objects.filter(pk=made.pk).update(simulated=True)


def speaking_stand_ins(grower: Grower, mqtt: bool) -> list[tuple[Device, str]]:
    """Return the stand-ins that may speak, each with a fresh token; with MQTT they have topics.

    One that was put away or revoked stays silent.
    """
    rows = Device.objects.of(grower).filter(simulated=True, removed=False, token_hash__isnull=False)
    found = [new_token(device) for device in rows.order_by("id")]
    if mqtt:
        for device, _ in found:
            if device.topic is None and device.kind != "prices":
                map_topic(device, topic_of(device))
    return found


def topic_of(device: Device) -> str:
    """Return the topic a stand-in speaks at."""
    return f"idle-canopy/demo/{device.kind}"
