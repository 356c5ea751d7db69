"""Looking at what devices say of a plan."""

from collections.abc import Iterable
from datetime import date, datetime, time, timedelta

import numpy as np
from django.utils import timezone
from numpy.typing import NDArray

from server.devices import selectors
from server.devices.adapters.messages import schedule_body
from server.devices.adapters.planned import planned_day
from server.devices.adapters.watch import (
    Metered,
    Points,
    Watched,
    kwh_by_day,
    meters_of_lamps,
    ppfd_today,
    watched,
)
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


def daily_kwh(run: Run, first: date, last: date) -> dict[date, Metered]:
    """Return what the meters of a run's lamps showed, by the grower's days, of those they know."""
    standing = standing_of(run)
    devices = selectors.devices_at(run.space, {lamp.fixture.pk for lamp in standing.lamps})
    meters = [series for _, series in meters_of_lamps([d for d in devices if not d.paused])]
    if not meters:
        return {}
    sum_up([series.pk for series in meters])
    zone = run.owner.zone
    begins = datetime.combine(first, time.min, tzinfo=zone)
    ends = datetime.combine(last + timedelta(days=1), time.min, tzinfo=zone)
    each = [
        kwh_by_day(selectors.hourly_means(series, ms_of(begins), ms_of(ends)), zone)
        for series in meters
    ]
    # a day counts as far as all of them were there
    days = set(each[0]).intersection(*each[1:])
    return {
        day: Metered(sum(found[day].kwh for found in each), min(found[day].hours for found in each))
        for day in days
    }


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
