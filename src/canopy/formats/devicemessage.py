"""Messages of devices, a reading or a schedule read back each, as JSON; docs/formats/device.md."""

import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from math import isfinite
from typing import Any, Literal

from canopy.errors import CanopyError
from canopy.formats.reader import Fields, load_json
from canopy.power.install import clock_words
from canopy.power.metered import QuantityName
from canopy.power.schedule import Switching

MOST_MESSAGES = 500
MOST_TEXT = 262_144
MOST_ID = 80
MOST_CHANNELS = 8
MOST_WINDOWS = 16
MOST_RAMP_MIN = 240

LATE = timedelta(days=30)
AHEAD = timedelta(minutes=5)

Reason = Literal["unreadable", "quantity", "unit", "range", "late", "ahead", "doubled", "paused"]


@dataclass(frozen=True)
class Quantity:
    """What a device can tell: its unit, and the lowest and highest that is believed."""

    unit: str
    low: float
    high: float


QUANTITIES: dict[QuantityName, Quantity] = {
    "power": Quantity("W", 0, 100_000),
    "energy": Quantity("kWh", 0, 10_000_000),
    "voltage": Quantity("V", 0, 500),
    "current": Quantity("A", 0, 400),
    "temperature": Quantity("C", -40, 120),
    "humidity": Quantity("%", 0, 100),
    "ppfd": Quantity("umol/m2/s", 0, 20_000),
    "illuminance": Quantity("lx", 0, 1_000_000),
    "switch": Quantity("", 0, 1),
    "output": Quantity("%", 0, 100),
}

SETTABLE: tuple[QuantityName, ...] = ("switch", "output")

SAME_UNIT = {"°C": "C", "µmol/m²/s": "umol/m2/s", "µmol/m2/s": "umol/m2/s", "lux": "lx"}
"""Other ways to write a unit that can mean nothing else."""


@dataclass(frozen=True)
class Reading:
    """One figure a device has read; ``id`` is its own name for the message."""

    id: str
    at: datetime
    quantity: QuantityName
    value: float
    channel: int = 1


@dataclass(frozen=True)
class Refused:
    """A message that is not used: which of those sent together, why, and in a sentence."""

    index: int
    reason: Reason
    sentence: str


@dataclass
class Parcel:
    """What was sent together.

    ``schedule`` is the last schedule read back in it; ``ignored`` names fields nobody asked for.
    """

    readings: list[tuple[int, Reading]] = field(default_factory=list)
    schedule: tuple[Switching, ...] | None = None
    refused: list[Refused] = field(default_factory=list)
    ignored: list[str] = field(default_factory=list)
    count: int = 0


class _UnusableError(CanopyError):
    def __init__(self, reason: Reason, sentence: str) -> None:
        super().__init__(sentence)
        self.reason = reason


def read_messages(text: str, now: datetime) -> Parcel:
    """Return the messages of a text: one JSON object, or an array of up to 500.

    Each message stands alone: one that cannot be used is refused, the others are kept.

    Parameters
    ----------
    text : str
    now : datetime
        With its zone; what is over 30 days older, or over 5 minutes ahead, is refused.

    Raises
    ------
    CanopyError
        When the whole is no JSON, too long, or holds too many messages.
    """
    if len(text) > MOST_TEXT:
        raise CanopyError(f"More than {MOST_TEXT:,} characters were sent; send less at once.")
    sent = load_json(text, "The message")
    messages = sent if isinstance(sent, list) else [sent]
    if len(messages) > MOST_MESSAGES:
        raise CanopyError(f"{len(messages)} messages were sent; {MOST_MESSAGES} at once at most.")
    parcel = Parcel(count=len(messages))
    for index, message in enumerate(messages):
        try:
            _take(parcel, index, message, now)
        except _UnusableError as error:
            parcel.refused.append(Refused(index, error.reason, str(error)))
        except CanopyError as error:
            parcel.refused.append(Refused(index, "unreadable", str(error)))
    parcel.ignored = list(dict.fromkeys(parcel.ignored))[:20]
    return parcel


READING_FIELDS = frozenset({"id", "at", "quantity", "unit", "value", "channel"})


def _take(parcel: Parcel, index: int, message: Any, now: datetime) -> None:
    if isinstance(message, dict) and "command" in message:
        parcel.schedule = _schedule(message, parcel.ignored)
        return
    if not isinstance(message, dict):
        raise CanopyError('A message should be an object in braces, like {"id": "1", …}.')
    parcel.readings.append((index, _reading(message, now)))
    parcel.ignored += [name[:40] for name in message if name not in READING_FIELDS]


def _reading(message: dict[str, Any], now: datetime) -> Reading:
    for name in ("id", "at", "quantity", "unit", "value"):
        if name not in message:
            raise CanopyError(f"{name} is missing.", name)
    known = message["id"]
    if not isinstance(known, str) or not 1 <= len(known) <= MOST_ID:
        raise CanopyError(f"id should be a text of 1 to {MOST_ID} characters.", "id")
    name = message["quantity"]
    if not isinstance(name, str) or name not in QUANTITIES:
        raise _UnusableError("quantity", f"quantity should be one of {', '.join(QUANTITIES)}.")
    quantity = QUANTITIES[name]
    unit = message["unit"]
    if not isinstance(unit, str) or SAME_UNIT.get(unit, unit) != quantity.unit:
        wanted = f'"{quantity.unit}"'
        raise _UnusableError("unit", f"unit of {name} should be {wanted}; nothing is converted.")
    value = message["value"]
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise CanopyError("value should be a number.", "value")
    if not quantity.low <= value <= quantity.high or not isfinite(value):
        span = f"from {quantity.low:g} to {quantity.high:g}"
        raise _UnusableError("range", f"value of {name} is out of what is believed, {span}.")
    if name == "switch" and value not in (0, 1):
        raise _UnusableError("range", "value of switch should be 0 or 1.")
    at = _moment(message["at"])
    if at < now - LATE:
        raise _UnusableError("late", f"at is over {LATE.days} days ago.")
    if at > now + AHEAD:
        raise _UnusableError("ahead", "at is more than 5 minutes ahead: set the device's clock.")
    return Reading(known, at, name, float(value), _channel(message.get("channel", 1)))


def _moment(text: Any) -> datetime:
    try:
        moment = datetime.fromisoformat(text)
        if moment.tzinfo is None:
            raise ValueError
        return moment.astimezone(UTC)
    except (TypeError, ValueError, OverflowError) as error:
        raise CanopyError(
            "at should be a time with its offset, like 2026-11-25T18:00:00Z.", "at"
        ) from error


def _channel(value: Any) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or not 1 <= value <= MOST_CHANNELS:
        raise CanopyError(f"channel should be a whole number from 1 to {MOST_CHANNELS}.", "channel")
    return value


def _schedule(message: dict[str, Any], ignored: list[str]) -> tuple[Switching, ...]:
    fields = Fields(message, "", ignored)
    command = fields.raw("command")
    if command != "schedule":
        raise CanopyError('A device tells readings, or its "schedule"; it sends no other command.')
    return read_windows(fields)


def read_windows(fields: Fields) -> tuple[Switching, ...]:
    """Return the windows of a schedule; an empty list is off all day.

    Raises
    ------
    CanopyError
        Naming the field that cannot be used.
    """
    rows = fields.raw("windows")
    if not isinstance(rows, list) or len(rows) > MOST_WINDOWS:
        raise CanopyError(f"windows should be a list of up to {MOST_WINDOWS}.", "windows")
    found = []
    for k, row in enumerate(rows):
        one = Fields(row, f"windows[{k}]", fields.ignored)
        found.append(
            Switching(
                _channel(one.raw("channel", 1)),
                _clock(one.raw("on"), one.name_of("on")),
                _clock(one.raw("off"), one.name_of("off")),
                one.whole("ramp_min", 0, MOST_RAMP_MIN, 0),
                one.number("output_pct", 0, 100, 100.0),
            )
        )
        one.done()
    return tuple(sorted(found))


CLOCK = re.compile(r"([01]\d|2[0-3]):([0-5]\d)")


def _clock(text: Any, where: str) -> int:
    match = CLOCK.fullmatch(text) if isinstance(text, str) else None
    if match is None:
        raise CanopyError(f"{where} should be a time like 06:00.", where)
    return int(match[1]) * 60 + int(match[2])


def write_schedule(windows: Iterable[Switching]) -> dict[str, Any]:
    """Return a schedule as the command that sets it, and as it is read back."""
    return {
        "command": "schedule",
        "windows": [
            {
                "channel": window.channel,
                "on": clock_words(window.on_minute),
                "off": clock_words(window.off_minute),
                "ramp_min": window.ramp_min,
                "output_pct": window.output_pct,
            }
            for window in sorted(windows)
        ],
    }


def write_reading(reading: Reading) -> dict[str, Any]:
    """Return a reading as a message, its time in UTC."""
    message: dict[str, Any] = {
        "id": reading.id,
        "at": reading.at.astimezone(UTC).isoformat().replace("+00:00", "Z"),
        "quantity": reading.quantity,
        "unit": QUANTITIES[reading.quantity].unit,
        "value": reading.value,
    }
    return message if reading.channel == 1 else {**message, "channel": reading.channel}


def write_set(quantity: QuantityName, value: float, channel: int = 1) -> dict[str, Any]:
    """Return the command that sets a switch or an output.

    Raises
    ------
    CanopyError
        When it is neither, or the value cannot be.
    """
    if quantity not in SETTABLE:
        raise CanopyError(f"Only {' and '.join(SETTABLE)} can be set.", "quantity")
    limits = QUANTITIES[quantity]
    if not limits.low <= value <= limits.high or (quantity == "switch" and value not in (0, 1)):
        raise CanopyError(f"It should be from {limits.low:g} to {limits.high:g}.", "value")
    command: dict[str, Any] = {"command": "set", "quantity": quantity, "value": value}
    return command if channel == 1 else {**command, "channel": _channel(channel)}
