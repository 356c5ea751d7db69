"""What devices and the Devices place exchange."""

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import AfterValidator, Field, StringConstraints

from server.common.schemas import FieldProblem, Id, Name, SaidOut, Strict
from server.devices.adapters.messages import QuantityName, Reason, unit_of_quantity
from server.devices.models import Device, Series
from server.devices.services.intake import moment_of

Kind = Literal["meter", "controller", "thermometer", "light", "prices", "other"]


class RefusedOut(Schema):
    """A message that was not used: its place among those sent, why, and a sentence."""

    index: int
    reason: Reason
    sentence: str


class TakenOut(Schema):
    """What became of messages sent together."""

    taken: int
    doubled: int
    refused: list[RefusedOut]
    ignored: list[str]

    def complaints(self) -> list[FieldProblem]:
        """Return the refusals as sentences at the messages' places."""
        return [
            FieldProblem(field=str(each.index), sentence=each.sentence) for each in self.refused
        ]


class CommandsOut(Schema):
    """What a device is to do: each with its ``id``, in the shape of docs/formats/device.md."""

    commands: list[dict[str, Any]]


class PricesTakenOut(Schema):
    """How many hours of prices the space now has."""

    hours: int


class DeviceIn(Strict):
    """A device: its name and kind, and the one thing it belongs to."""

    name: Name
    kind: Kind
    space_id: Id | None = None
    fixture_id: Id | None = None
    piece_id: Id | None = None
    circuit_id: Id | None = None
    off_above_c: float | None = Field(None, ge=0, le=80)


class PausedIn(Strict):
    paused: bool


def _topic(text: str) -> str:
    if any(ord(letter) < 32 for letter in text):
        raise ValueError("holds a character that cannot be in a topic; type it again")
    return text


class TopicIn(Strict):
    """The MQTT topic a device speaks at; none at no one's."""

    topic: Annotated[str, StringConstraints(max_length=200), AfterValidator(_topic)] | None = None


class DeviceSettingIn(Strict):
    """What a switch or an output is to be set to."""

    quantity: Literal["switch", "output"]
    value: float = Field(ge=0, le=100)
    channel: int = Field(1, ge=1, le=8)


class LastOut(Schema):
    """The newest reading of a series."""

    quantity: QuantityName
    channel: int
    unit: str
    at: datetime | None
    value: float | None

    @staticmethod
    def of(series: Series) -> "LastOut":
        """Return a series' newest."""
        return LastOut(
            quantity=series.quantity,  # type: ignore[arg-type]
            channel=series.channel,
            unit=unit_of_quantity(series.quantity),
            at=None if series.last_at is None else moment_of(series.last_at),
            value=series.last_value,
        )


class RefusalOut(Schema):
    """Messages of a day that were refused for one reason."""

    day: str
    reason: Reason
    count: int
    sentence: str


class WindowKeptOut(Schema):
    """A window of a schedule, as devices exchange it."""

    channel: int
    on: str
    off: str
    ramp_min: int
    output_pct: float


class CommandOut(Schema):
    """Something a device was told, and how far that is."""

    id: int
    body: dict[str, Any]
    made_at: datetime
    given_at: datetime | None
    done_at: datetime | None


class DeviceOut(Schema):
    """A device as it now stands; of its token nothing but whether there is one."""

    id: int
    version: int
    name: str
    kind: Kind
    space_id: int | None
    fixture_id: int | None
    piece_id: int | None
    circuit_id: int | None
    off_above_c: float | None
    removed: bool
    paused: bool
    simulated: bool
    has_token: bool
    token_made_at: datetime | None
    topic: str | None
    heard_at: datetime | None
    taken: int
    doubled: int
    refused: int
    refusals: list[RefusalOut]
    series: list[LastOut]
    schedule: list[WindowKeptOut] | None
    schedule_at: datetime | None

    @staticmethod
    def of(device: Device) -> "DeviceOut":
        """Return a device with its newest readings."""
        columns = {
            name: getattr(device, name)
            for name in DeviceOut.model_fields
            if name not in ("has_token", "series", "schedule")
        }
        schedule = device.schedule
        return DeviceOut(
            **columns,
            has_token=device.token_hash is not None,
            series=[LastOut.of(row) for row in device.series.all()],
            schedule=None if schedule is None else schedule["windows"],
        )


class MadeOut(Schema):
    """A device with its token, told this once."""

    device: DeviceOut
    token: str


class CurveOut(Schema):
    """A series over time in few points; times in milliseconds since 1970."""

    unit: str
    since_ms: int
    until_ms: int
    at_ms: list[int]
    low: list[float]
    mean: list[float]
    high: list[float]


class TopicOut(Schema):
    """A topic something arrived at: when last, how often, what it began with, and whose it is."""

    topic: str
    at: datetime
    count: int
    begins: str
    readable: bool
    device_id: int | None


class BrokerOut(Schema):
    """The broker whoever runs this server has named, without its password."""

    address: str
    topics: list[str]
    connected: bool
    trouble: str
    arrived: list[TopicOut]


class DoorOut(Schema):
    """How devices come in: where, and through which broker; ``now`` is this server's clock."""

    path: str
    now: datetime
    strangers: int
    broker: BrokerOut | None


class WatchedOut(Schema):
    """What a plan's devices say today; minutes after midnight of the grower's clock.

    ``kwh`` is known for ``kwh_hours`` of the ``minute`` gone by; ``planned_kwh`` is up to now.
    """

    run_id: int
    minute: int
    watts: float | None
    watts_at: datetime | None
    watts_by: str
    planned_watts: float
    kwh: float | None
    kwh_hours: float
    planned_kwh: float
    celsius: float | None
    celsius_at: datetime | None
    celsius_by: str
    off_min: int
    off_by_heat_min: int
    findings: list["DeviceSaidOut"]
    planned_schedule: list[WindowKeptOut]


class DeviceSaidOut(Schema):
    """What is said of one device, and whether somebody should look."""

    device_id: int
    well: bool
    line: SaidOut


class HandIn(Strict):
    """Where a simulated light sensor is held: in cm, the lamp above it, and how it is lit."""

    space_id: Id
    x_cm: float = Field(ge=0, le=1000)
    y_cm: float = Field(ge=0, le=1000)
    height_cm: float = Field(ge=1, le=1000)
    dial_pct: float | None = Field(None, ge=0, le=100)
    lit: bool = True


class HandOut(Schema):
    """Whether there was such a sensor."""

    carried: bool
