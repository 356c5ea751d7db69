"""What devices say today of a plan, and of themselves."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from canopy.crop.night import DAY_MIN
from canopy.power.install import WATTS_AGREE
from canopy.power.metered import Floats, by_minute, counted_kwh, energy_of
from canopy.power.metered import Metered as Metered
from canopy.power.schedule import Switching, differences
from canopy.power.watching import (
    DRAWS_NOTHING,
    OffTime,
    clock_off_s,
    lamp_said,
    leap_in,
    off_in_hours,
    stuck_h,
)
from canopy.words import Said, said
from server.devices.adapters.messages import schedule_body, unit_of_quantity, windows_of
from server.devices.adapters.planned import PlannedDay
from server.devices.models import Device, Series
from server.runs.adapters.standing import Standing

SILENT = timedelta(hours=1)
DAY = timedelta(days=1)
REGULAR = ("meter", "controller", "thermometer", "light")
"""Kinds that speak all the time; a price feed does once a day."""

Points = tuple[Floats, Floats]
"""Seconds since 1970, and values."""

Readings = Callable[[Series, datetime, datetime], Points]


@dataclass(frozen=True)
class DeviceSaid:
    """What is said of one device, and whether somebody should look."""

    device_id: int
    well: bool
    line: Said


@dataclass
class Watched:
    """What a plan's devices say today; minutes after midnight of the grower's clock."""

    run_id: int
    minute: int
    watts: float | None = None
    watts_at: datetime | None = None
    watts_by: str = ""
    planned_watts: float = 0.0
    kwh: float | None = None
    kwh_hours: float = 0.0
    planned_kwh: float = 0.0
    celsius: float | None = None
    celsius_at: datetime | None = None
    celsius_by: str = ""
    off_min: int = 0
    off_by_heat_min: int = 0
    findings: list[DeviceSaid] = field(default_factory=list)
    planned_schedule: list[dict[str, object]] = field(default_factory=list)


@dataclass(frozen=True)
class _Day:
    """Today by the grower's clock, and how to read a series over it."""

    now: datetime
    zone: ZoneInfo
    readings: Readings

    @property
    def midnight(self) -> datetime:
        local = self.now.astimezone(self.zone)
        return local.replace(hour=0, minute=0, second=0, microsecond=0)

    def minute_of(self, seconds: Floats) -> Floats:
        """Return minutes after midnight; on days that clocks change, as they then showed."""
        start = self.midnight
        minutes = (seconds - start.timestamp()) / 60
        later = self.now.astimezone(self.zone).utcoffset()
        if later == start.utcoffset() or not len(seconds):
            return minutes
        found = [datetime.fromtimestamp(each, self.zone) for each in seconds]
        return np.array([each.hour * 60 + each.minute + each.second / 60 for each in found])

    def today(self, series: Series) -> Floats:
        """Return a series minute by minute, shape (1440,)."""
        seconds, values = self.readings(series, self.midnight, self.now)
        minutes = self.minute_of(seconds)
        order = np.argsort(minutes, kind="stable")
        return by_minute(minutes[order], values[order])


def watched(
    run: Standing,
    planned: PlannedDay,
    devices: Sequence[Device],
    readings: Readings,
    now: datetime,
) -> Watched:
    """Return what devices say today of a plan; ``readings`` reads a series from when until when."""
    day = _Day(now, run.owner.zone, readings)
    local = now.astimezone(day.zone)
    minute = local.hour * 60 + local.minute
    found = Watched(run.run_id, minute)
    found.planned_watts = float(planned.watts[minute])
    found.planned_kwh = float(planned.watts[: minute + 1].sum()) / 60_000
    found.planned_schedule = schedule_body(planned.channels)["windows"]
    speaking = [device for device in devices if not device.paused]
    meters = meters_of_lamps(speaking)
    watts = _note_watts(found, day, meters, planned)
    _note_energy(found, day, speaking, meters)
    celsius = _note_warmth(found, day, speaking)
    _note_off(found, day, run, planned, speaking, watts, celsius)
    for device in speaking:
        found.findings += _of_itself(device, day, planned)
        found.findings += _of_schedule(device, planned.channels)
    # what somebody should look at comes first
    found.findings.sort(key=lambda each: each.well)
    return found


def kwh_by_day(hours: Sequence[tuple[int, float]], zone: ZoneInfo) -> dict[date, Metered]:
    """Return a meter's energy by the days of a clock, from when each hour began and its watts."""
    found: dict[date, Metered] = {}
    for at_ms, watts in hours:
        day = datetime.fromtimestamp(at_ms / 1000, zone).date()
        before = found.get(day, Metered(0.0, 0.0))
        found[day] = Metered(before.kwh + watts / 1000, before.hours + 1)
    return found


def ppfd_today(
    devices: Sequence[Device], readings: Readings, now: datetime, zone: ZoneInfo
) -> Floats | None:
    """Return what a light sensor showed today minute by minute, shape (1440,); None without one.

    Nothing (NaN) where it was silent; of several the mean.
    """
    day = _Day(now, zone, readings)
    speaking = [device for device in devices if not device.paused]
    fresh = [s for _, s in _series(speaking, "ppfd") if now - newest_at(s) < SILENT]
    if not fresh:
        return None
    return np.asarray(np.mean([day.today(series) for series in fresh], axis=0), dtype=float)


def _series(devices: Sequence[Device], quantity: str) -> list[tuple[Device, Series]]:
    return [
        (device, series)
        for device in devices
        for series in device.series.all()
        if series.quantity == quantity and series.last_at is not None
    ]


def meters_of_lamps(devices: Sequence[Device]) -> list[tuple[Device, Series]]:
    """Return the meters whose watts are the lamps': those of the space, else those of lamps.

    A circuit's meter shows whatever else runs on it, and is held against no plan.
    """
    meters = _series(devices, "power")
    of_space = [each for each in meters if each[0].space_id is not None]
    return of_space or [each for each in meters if each[0].fixture_id is not None]


def newest_at(series: Series) -> datetime:
    return datetime.fromtimestamp((series.last_at or 0) / 1000, ZoneInfo("UTC"))


def _note_watts(
    found: Watched,
    day: _Day,
    meters: Sequence[tuple[Device, Series]],
    planned: PlannedDay,
) -> Floats | None:
    fresh = [each for each in meters if day.now - newest_at(each[1]) < SILENT]
    if not fresh:
        return None
    watts: Floats = np.sum([day.today(series) for _, series in fresh], axis=0)
    found.watts = sum(series.last_value or 0.0 for _, series in fresh)
    found.watts_at = min(newest_at(series) for _, series in fresh)
    found.watts_by = " + ".join(dict.fromkeys(device.name for device, _ in fresh))
    lines = lamp_said(
        found.watts_by, watts, planned.watts, planned.ramp_min, found.minute, WATTS_AGREE
    )
    for line in lines:
        well = line.code == "device.draws_as_planned"
        found.findings.append(DeviceSaid(fresh[0][0].pk, well, line))
    return watts


def _note_energy(
    found: Watched,
    day: _Day,
    devices: Sequence[Device],
    meters: Sequence[tuple[Device, Series]],
) -> None:
    parts = [energy_of(*day.readings(series, day.midnight, day.now)) for _, series in meters]
    if not parts:
        owners = {device.pk for device in devices if device.circuit_id is None}
        for device, series in _series(devices, "energy"):
            if device.pk in owners:
                at, shown = day.readings(series, day.midnight, day.now)
                hours = float(at[-1] - at[0]) / 3600 if len(at) else 0.0
                parts.append(Metered(counted_kwh(shown), hours))
    known = [part for part in parts if part.hours > 0]
    if known:
        found.kwh = sum(part.kwh for part in known)
        found.kwh_hours = min(part.hours for part in known)


def _note_warmth(found: Watched, day: _Day, devices: Sequence[Device]) -> Floats | None:
    rows = [each for each in _series(devices, "temperature") if each[0].circuit_id is None]
    # a thermometer before what else has one inside
    rows.sort(key=lambda each: (each[0].kind != "thermometer", each[0].pk))
    fresh = [each for each in rows if day.now - newest_at(each[1]) < SILENT]
    if not fresh:
        return None
    device, series = fresh[0]
    found.celsius, found.celsius_at, found.celsius_by = (
        series.last_value,
        newest_at(series),
        device.name,
    )
    return day.today(series)


def _note_off(
    found: Watched,
    day: _Day,
    run: Standing,
    planned: PlannedDay,
    devices: Sequence[Device],
    watts: Floats | None,
    celsius: Floats | None,
) -> None:
    """Note for how long the lamp was off in its hours: as a meter shows it, or a controller."""
    lit, by = None, None
    if watts is not None:
        lit = np.where(np.isnan(watts), np.nan, watts > DRAWS_NOTHING * planned.watts.max())
        by = meters_of_lamps(devices)[0][0]
    else:
        switches = [each for each in _series(devices, "switch") if each[1].channel == 1]
        if switches:
            by, series = switches[0]
            lit = day.today(series)
    if lit is None or by is None:
        return
    unknown = np.full(DAY_MIN, np.nan)
    lit[found.minute + 1 :] = np.nan
    # what is read on the controller, before what the space was planned with
    limits = [each.off_above_c for each in devices if each.off_above_c is not None]
    limits += [run.space.heat["off_above_c"]] if run.space.heat else []
    off: OffTime = off_in_hours(
        np.asarray(lit, dtype=float),
        planned.watts,
        planned.ramp_min,
        unknown if celsius is None else celsius,
        limits[0] if limits else None,
    )
    found.off_min, found.off_by_heat_min = off.minutes, off.by_heat
    if off.by_heat:
        line = said("device.off_by_heat", minutes=off.by_heat)
        found.findings.append(DeviceSaid(by.pk, False, line))
    if off.minutes > off.by_heat:
        line = said("device.off", minutes=off.minutes - off.by_heat)
        found.findings.append(DeviceSaid(by.pk, False, line))


def _of_itself(device: Device, day: _Day, planned: PlannedDay) -> list[DeviceSaid]:
    """Return what a device's own readings say of it."""
    lines = device_lines(device, day.now)
    if device.heard_at is not None and day.now - device.heard_at <= SILENT:
        start = day.midnight
        switched = [
            (start + timedelta(days=back, minutes=minute)).timestamp()
            for back in (-1, 0)
            for minute in planned.switched
        ]
        for series in device.series.all():
            lines += _of_series(device, series, day, switched)
    return [DeviceSaid(device.pk, False, line) for line in lines]


def device_lines(device: Device, now: datetime) -> list[Said]:
    """Return what a device should be looked at for, whatever the plan: silent, its clock off."""
    name, lines = device.name, list[Said]()
    if device.heard_at is not None and device.kind in REGULAR:
        silent = now - device.heard_at
        if silent > SILENT:
            lines.append(said("device.silent", name=name, hours=silent.total_seconds() / 3600))
    off = clock_off_s(device.lags) / 60
    if off:
        code = "device.clock_behind" if off > 0 else "device.clock_ahead"
        lines.append(said(code, name=name, minutes=abs(off)))
    lately = {now.date().isoformat(), (now - DAY).date().isoformat()}
    refused = [row for row in device.refusals if row["day"] in lately and row["reason"] != "paused"]
    if refused:
        count, why = sum(row["count"] for row in refused), refused[-1]["sentence"]
        lines.append(said("device.refused", name=name, count=count, why=why))
    return lines


def _of_series(device: Device, series: Series, day: _Day, switched: list[float]) -> list[Said]:
    if series.quantity in ("energy", "switch", "output"):
        return []
    at, values = day.readings(series, day.now - DAY, day.now)
    quantity, lines = series.quantity, list[Said]()
    leap = leap_in(quantity, at, values)  # type: ignore[arg-type]
    if leap is not None and quantity == "temperature":
        lines.append(
            said("device.leaps_warmer", name=device.name, by=abs(leap.by), count=leap.count)
        )
    elif leap is not None:
        figures = {"by": abs(leap.by), "count": leap.count}
        words = {"quantity": quantity, "unit": unit_of_quantity(quantity)}
        lines.append(said("device.leaps", name=device.name, **figures, **words))
    still = stuck_h(quantity, at, values, switched)  # type: ignore[arg-type]
    if still:
        lines.append(said("device.stuck", name=device.name, quantity=quantity, hours=still))
    return lines


def _of_schedule(device: Device, wanted: Sequence[Switching]) -> list[DeviceSaid]:
    if device.schedule is None:
        return []
    lines = differences(windows_of(device.schedule), wanted)
    if not lines:
        return [DeviceSaid(device.pk, True, said("device.schedule_well", name=device.name))]
    return [DeviceSaid(device.pk, False, line) for line in lines]
