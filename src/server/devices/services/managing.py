"""Adding devices, their tokens and topics, and telling them what to do."""

import secrets
from datetime import datetime
from hashlib import sha256
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction
from django.utils import timezone

from server.accounts.models import Grower
from server.common.problems import CanopyError
from server.common.rows import Expected, held, keep
from server.devices.adapters.messages import QuantityName, set_body
from server.devices.models import Command, Device
from server.devices.selectors import device_of
from server.fixtures.models import Fixture, OwnedLamp
from server.spaces.models import Circuit, Space

MOST_DEVICES = 50
MOST_COMMANDS = 500
"""A device keeps so many; the oldest go."""


def hashed(token: str) -> str:
    """Return what is kept of a token: it has 256 bits of chance, so a plain digest will do."""
    return sha256(token.encode()).hexdigest()


def add_device(grower: Grower, values: dict[str, Any]) -> tuple[Device, str]:
    """Return a new device, and its token, which is told this once."""
    values = _belonging(grower, values)
    token = secrets.token_urlsafe(32)
    with transaction.atomic():
        if Device.objects.of(grower).filter(removed=False).count() >= MOST_DEVICES:
            raise CanopyError(
                f"{MOST_DEVICES} devices are the most one grower can have; put one away."
            )
        made = Device.objects.create(
            owner=grower, **values, token_hash=hashed(token), token_made_at=timezone.now()
        )
    return device_of(grower, made.pk), token


def change_device(device: Device, values: dict[str, Any], expected: Expected = None) -> Device:
    """Keep a device's name, kind and where it belongs."""
    values = _belonging(device.owner, values)
    with held(device, expected) as row:
        keep(row, **values)
    return device_of(device.owner, device.pk)


def _belonging(grower: Grower, values: dict[str, Any]) -> dict[str, Any]:
    """Return a device's fields with the row it belongs to, which has to be the grower's."""
    values = dict(values)
    wanted: dict[str, Any] = {}
    for name, model in (("space", Space), ("fixture", Fixture), ("circuit", Circuit)):
        pk = values.pop(f"{name}_id", None)
        wanted[name] = None if pk is None else _own(grower, model, pk, f"{name}_id")
    given = [name for name, row in wanted.items() if row is not None]
    if len(given) != 1:
        raise CanopyError("Say where it belongs: a space, a lamp or a circuit.", "space_id")
    pk = values.pop("piece_id", None)
    piece = None if pk is None else _own(grower, OwnedLamp, pk, "piece_id")
    if piece is not None and (
        wanted["fixture"] is None or piece.fixture_id != wanted["fixture"].pk
    ):
        raise CanopyError("That lamp is of another kind; choose it again.", "piece_id")
    if values["kind"] == "prices" and wanted["space"] is None:
        raise CanopyError("A price feed belongs to a space; choose which.", "space_id")
    return {**values, **wanted, "piece": piece}


def _own(grower: Grower, model: Any, pk: int, field: str) -> Any:
    row = model.objects.of(grower).filter(pk=pk, removed=False).first()
    if row is None:
        raise CanopyError("There is no such thing of yours, or it is put away.", field)
    return row


def pause(device: Device, paused: bool, expected: Expected = None) -> Device:
    """Keep nothing of what a device sends for a while, or take it in again."""
    with held(device, expected) as row:
        keep(row, paused=paused)
    return device_of(device.owner, device.pk)


def put_away(device: Device, removed: bool, expected: Expected = None) -> Device:
    """Put a device away with its token, or bring it back without one; its readings stay."""
    with held(device, expected) as row:
        keep(row, removed=removed, token_hash=None, topic=None)
    return device_of(device.owner, device.pk)


def new_token(device: Device, expected: Expected = None) -> tuple[Device, str]:
    """Return a device with a new token, told this once; the one before is dead at once."""
    token = secrets.token_urlsafe(32)
    with held(device, expected) as row:
        if row.removed:
            raise CanopyError("This device is put away; bring it back first.")
        keep(row, token_hash=hashed(token), token_made_at=timezone.now())
    return device_of(device.owner, device.pk), token


def revoke(device: Device, expected: Expected = None) -> Device:
    """Take a device's token away: nobody can speak for it over HTTP."""
    with held(device, expected) as row:
        keep(row, token_hash=None)
    return device_of(device.owner, device.pk)


def map_topic(device: Device, topic: str | None, expected: Expected = None) -> Device:
    """Say at which MQTT topic a device speaks; none: at no one's."""
    topic = topic or None
    if topic is not None and ("#" in topic or "+" in topic or topic.startswith("$")):
        raise CanopyError("Give the topic itself, without # or +.", "topic")
    try:
        with held(device, expected) as row:
            keep(row, topic=topic)
    except IntegrityError as error:
        raise CanopyError(
            "Another device speaks at that topic; choose another.", "topic"
        ) from error
    return device_of(device.owner, device.pk)


def tell(device: Device, body: dict[str, Any], key: UUID | None = None) -> Command:
    """Keep a command for a device until it asks, or until the broker can be reached."""
    with held(device):
        known = Command.objects.filter(device=device)
        if key is not None:
            before = known.filter(key=key).first()
            if before is not None:
                return before
        made = Command.objects.create(device=device, body=body, key=key)
        old = known.order_by("-id").values_list("id", flat=True)[MOST_COMMANDS:]
        known.filter(pk__in=list(old)).delete()
    return made


def tell_setting(
    device: Device, quantity: QuantityName, value: float, channel: int, key: UUID | None = None
) -> Command:
    """Keep the command that sets a switch or an output."""
    return tell(device, set_body(quantity, value, channel), key)


def given(commands: list[Command], now: datetime) -> None:
    """Note that a device was given its commands."""
    first = [command.pk for command in commands if command.given_at is None]
    if first:
        Command.objects.filter(pk__in=first).update(given_at=now)
