"""Looking at what devices say of a plan."""

from collections.abc import Iterable
from datetime import datetime

import numpy as np
from django.utils import timezone
from numpy.typing import NDArray

from server.devices import selectors
from server.devices.adapters.messages import schedule_body
from server.devices.adapters.planned import planned_day
from server.devices.adapters.watch import Points, Watched, ppfd_today, watched
from server.devices.models import Command, Device, Series
from server.devices.services.intake import ms_of
from server.devices.services.keeping import sum_up
from server.devices.services.managing import tell
from server.runs.adapters.standing import kept_of, standing_of
from server.runs.models import Run


def readings(series: Series, since: datetime, until: datetime) -> Points:
    """Return a series over a stretch of time: seconds since 1970, values."""
    at, values = selectors.fine_readings(series, ms_of(since), ms_of(until) + 1)
    return np.asarray(at, dtype=float) / 1000, values


def watch(run: Run) -> Watched:
    """Return what a run's devices say today."""
    standing = standing_of(run)
    lamps = {lamp.fixture.pk for lamp in standing.lamps}
    devices = selectors.devices_at(run.space, lamps)
    return watch_of(run, devices)


def light_today(run: Run) -> NDArray[np.float64] | None:
    """Return what a light sensor in a run's space showed today, minute by minute."""
    devices = selectors.devices_at(run.space, [])
    return ppfd_today(devices, readings, timezone.now(), run.owner.zone)


def watch_of(run: Run, devices: Iterable[Device]) -> Watched:
    """Return what some devices say today of a run."""
    standing = standing_of(run)
    planned = planned_day(standing, kept_of(run), run.owner.today())
    return watched(standing, planned, list(devices), readings, timezone.now())


def send_plan(device: Device, run: Run, key: object = None) -> Command:
    """Tell a controller the plan's times of today."""
    planned = planned_day(standing_of(run), kept_of(run), run.owner.today())
    return tell(device, schedule_body(planned.channels), key)  # type: ignore[arg-type]


def curve(series: Series, since_ms: int, until_ms: int) -> selectors.Curve:
    """Return a series over a stretch of time, its sums made first where they are behind."""
    if until_ms - since_ms > selectors.RAW_UNTIL_MS:
        sum_up([series.pk])
    return selectors.curve_of(series, since_ms, until_ms)
