"""Taking in what a price feed sends."""

from datetime import datetime

from django.db.models import F

from server.common.problems import CanopyError
from server.devices.models import Device
from server.spaces.services.power import join_prices


def take_prices(device: Device, text: str, now: datetime) -> int:
    """Let the hours of a price file join those of a feed's space; return how many there are now."""
    if device.kind != "prices" or device.space is None:
        raise CanopyError("This device is no price feed; say on Devices that it is one.")
    if device.paused:
        raise CanopyError("This device is paused on Idle Canopy; nothing of it is kept.")
    hours = join_prices(device.space, text)
    Device.objects.filter(pk=device.pk).update(taken=F("taken") + 1, heard_at=now)
    return hours
