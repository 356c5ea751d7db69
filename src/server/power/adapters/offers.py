"""What devices read just now that a step of an install asks for."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from canopy.errors import CanopyError
from canopy.power.circuit import electrical
from canopy.power.install import SECOND, ReadingName, StepName
from server.devices.adapters.messages import windows_of
from server.devices.adapters.watch import meters_of_lamps, newest_at
from server.devices.models import Device

FRESH = timedelta(minutes=5)

OF_METER: dict[str, ReadingName] = {"power": "watts", "voltage": "volts", "current": "amps"}


@dataclass(frozen=True)
class Offer:
    """Readings of a device, by the names a step asks for, and when it read them."""

    by: str
    at: datetime
    readings: dict[str, float]


def offers_of(devices: Sequence[Device], now: datetime) -> dict[StepName, list[Offer]]:
    """Return what devices offer to the steps: a meter, a thermometer, a controller's times."""
    speaking = [device for device in devices if not device.paused]
    found: dict[StepName, list[Offer]] = {"watts": [], "warm": [], "timer": []}
    meters = {device.pk: device for device, _ in meters_of_lamps(speaking)}
    for meter in meters.values():
        _offer(found["watts"], meter, OF_METER, now)
    for device in speaking:
        if device.kind == "thermometer" and device.circuit_id is None:
            _offer(found["warm"], device, {"temperature": "tent_c"}, now)
        _offer_times(found["timer"], device)
    return found


def _offer(
    offers: list[Offer], device: Device, names: dict[str, ReadingName], now: datetime
) -> None:
    fresh = {
        series.quantity: series
        for series in device.series.all()
        if series.quantity in names
        and series.channel == 1
        and series.last_at is not None
        and now - newest_at(series) < FRESH
    }
    readings = {names[name]: float(row.last_value or 0.0) for name, row in fresh.items()}
    if "amps" in readings and not _go_together(readings):
        del readings["amps"]
    if readings:
        oldest = min(newest_at(series) for series in fresh.values())
        offers.append(Offer(device.name, oldest, {str(k): v for k, v in readings.items()}))


def _go_together(readings: dict[ReadingName, float]) -> bool:
    """Return whether a meter's figures can be: of next to nothing it shows no amps worth having."""
    if "volts" not in readings or "watts" not in readings:
        return True
    try:
        electrical(readings["volts"], readings["watts"], readings["amps"])
    except CanopyError:
        return False
    return True


def _offer_times(offers: list[Offer], device: Device) -> None:
    if device.schedule is None or device.schedule_at is None:
        return
    windows = windows_of(device.schedule)
    times: dict[str, float] = {}
    for channel, names in ((1, ("on_minute", "off_minute")), (2, SECOND)):
        mine = [window for window in windows if window.channel == channel]
        # a channel that is on twice has no one time to come on
        if len(mine) == 1:
            times |= dict(zip(names, (float(mine[0].on_minute), float(mine[0].off_minute))))
    if "on_minute" in times:
        offers.append(Offer(device.name, device.schedule_at, times))
