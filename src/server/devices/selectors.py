"""Reading devices, and what they have read."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from django.db.models import Q, QuerySet
from django.shortcuts import get_object_or_404
from numpy.typing import NDArray

from server.accounts.models import Grower
from server.devices.models import Command, Device, FiveMinutes, Hour, Reading, Series
from server.spaces.models import Space

MOST_POINTS = 240
"""A small curve has no more."""

FIVE_MIN_MS = 300_000
RAW_UNTIL_MS = 3 * 3_600_000
FIVE_UNTIL_MS = 15 * 86_400_000
"""Longer stretches are drawn from five minutes, and longer ones still from hours."""


def devices_of(grower: Grower) -> QuerySet[Device]:
    """Return the grower's devices, oldest first."""
    rows: QuerySet[Device] = Device.objects.of(grower).prefetch_related("series")
    return rows


def device_of(grower: Grower, device_id: int) -> Device:
    """Return one device of the grower's, or answer 404."""
    rows = Device.objects.of(grower).select_related("owner")
    device: Device = get_object_or_404(rows, pk=device_id)
    return device


def series_of(device: Device, quantity: str, channel: int) -> Series:
    """Return one series of a device, or answer 404."""
    return get_object_or_404(Series, device=device, quantity=quantity, channel=channel)


def devices_at(space: Space, fixture_ids: Iterable[int]) -> list[Device]:
    """Return the devices of a space, of the lamps in it, and of its circuit."""
    here = Q(space=space) | Q(fixture__in=list(fixture_ids))
    if space.circuit_id is not None:
        here |= Q(circuit=space.circuit_id)
    rows = Device.objects.of(space.owner).filter(here, removed=False).prefetch_related("series")
    return list(rows)


def waiting_commands(device: Device) -> list[Command]:
    """Return what a device still has to do: the latest schedule, and the latest of each setting."""
    told = Command.objects.filter(device=device).order_by("id")
    first = told.filter(done_at=None).first()
    if first is None:
        return []
    latest: dict[tuple[object, ...], Command] = {}
    # what was told later stands in the place of what was told before, done or not
    for command in told.filter(pk__gte=first.pk):
        body = command.body
        latest[body["command"], body.get("quantity"), body.get("channel")] = command
    waiting = [command for command in latest.values() if command.done_at is None]
    return sorted(waiting, key=lambda command: command.pk)


Floats = NDArray[np.float64]
Times = NDArray[np.int64]


MOST_FINE = 20_000


def fine_readings(series: Series, since_ms: int, until_ms: int) -> tuple[Times, Floats]:
    """Return raw readings of a stretch, or where those are very many the means of five minutes."""
    rows = Reading.objects.filter(series=series, at__gte=since_ms, at__lt=until_ms)
    found = list(rows.order_by("at").values_list("at", "value")[: MOST_FINE + 1])
    if len(found) > MOST_FINE:
        sums = FiveMinutes.objects.filter(series=series, at__gte=since_ms, at__lt=until_ms)
        each = sums.order_by("at").values_list("at", "total", "n")
        found = [(at + FIVE_MIN_MS // 2, total / n) for at, total, n in each]
    times = np.array([at for at, _ in found], dtype=np.int64)
    return times, np.array([value for _, value in found], dtype=float)


def hourly_means(series: Series, since_ms: int, until_ms: int) -> list[tuple[int, float]]:
    """Return when each hour of a series began, and its mean."""
    rows = Hour.objects.filter(series=series, at__gte=since_ms, at__lt=until_ms).order_by("at")
    return [(at, total / n) for at, total, n in rows.values_list("at", "total", "n")]


@dataclass(frozen=True)
class Curve:
    """A series over time in few points: when each begins, and its lowest, mean and highest."""

    at_ms: list[int]
    low: list[float]
    mean: list[float]
    high: list[float]


def curve_of(series: Series, since_ms: int, until_ms: int) -> Curve:
    """Return a series over a stretch of time, from what is kept finely enough."""
    span = until_ms - since_ms
    stretch = Q(series=series, at__gte=since_ms, at__lt=until_ms)
    if span <= RAW_UNTIL_MS:
        at, value = fine_readings(series, since_ms, until_ms)
        n, low, high, total = np.ones(len(at)), value, value, value
    else:
        model = FiveMinutes if span <= FIVE_UNTIL_MS else Hour
        rows = model._default_manager.filter(stretch).order_by("at")
        found = np.array(list(rows.values_list("at", "n", "low", "high", "total")), dtype=float)
        found = found.reshape(-1, 5)
        at = found[:, 0].astype(np.int64)
        n, low, high, total = found[:, 1], found[:, 2], found[:, 3], found[:, 4]
    if not len(at):
        return Curve([], [], [], [])
    width = max(span // MOST_POINTS, 1)
    firsts = np.flatnonzero(np.diff(at // width, prepend=-1))
    return Curve(
        at_ms=at[firsts].tolist(),
        low=np.minimum.reduceat(low, firsts).tolist(),
        mean=(np.add.reduceat(total, firsts) / np.add.reduceat(n, firsts)).tolist(),
        high=np.maximum.reduceat(high, firsts).tolist(),
    )


def device_by_token(token_hash: str) -> Device | None:
    """Return the device that has a token with this digest, unless it is put away."""
    rows = Device.objects.filter(token_hash=token_hash, removed=False, owner__is_active=True)
    found: Device | None = rows.only("kind", "paused", "space").order_by().first()
    return found
