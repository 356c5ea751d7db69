"""Messages of devices and commands to them, between what is sent and rows."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from canopy.formats.devicemessage import QUANTITIES as QUANTITIES
from canopy.formats.devicemessage import SETTABLE as SETTABLE
from canopy.formats.devicemessage import Parcel as Parcel
from canopy.formats.devicemessage import Reading as Reading
from canopy.formats.devicemessage import Reason as Reason
from canopy.formats.devicemessage import Refused as Refused
from canopy.formats.devicemessage import (
    read_messages,
    read_windows,
    write_reading,
    write_schedule,
    write_set,
)
from canopy.formats.reader import Fields
from canopy.power.metered import QuantityName as QuantityName
from canopy.power.schedule import Switching

NAMES: tuple[QuantityName, ...] = tuple(QUANTITIES)


def parcel_of(payload: bytes, now: datetime) -> Parcel:
    """Return what a device sent.

    Raises
    ------
    CanopyError
        When it is no message at all.
    """
    # what is no UTF-8 cannot be JSON either; the reader says so
    return read_messages(payload.decode("utf-8", errors="replace"), now)


def windows_of(body: dict[str, Any]) -> tuple[Switching, ...]:
    """Return the windows of a schedule as it is kept."""
    return read_windows(Fields(body, "", []))


def schedule_body(windows: Sequence[Switching]) -> dict[str, Any]:
    """Return a schedule as it is sent and kept."""
    return write_schedule(windows)


def set_body(quantity: QuantityName, value: float, channel: int) -> dict[str, Any]:
    """Return the command that sets a switch or an output.

    Raises
    ------
    CanopyError
        When it cannot be set so.
    """
    return write_set(quantity, value, channel)


def message_of(
    known: str, at: datetime, quantity: QuantityName, value: float, channel: int = 1
) -> dict[str, Any]:
    """Return a reading as a device sends it."""
    return write_reading(Reading(known, at, quantity, value, channel))


def unit_of_quantity(name: str) -> str:
    """Return the unit a quantity is told in."""
    return next(each.unit for known, each in QUANTITIES.items() if known == name)
