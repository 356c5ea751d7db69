"""Prices that differ from hour to hour and from day to day, and lamps that follow them.

Hours begin at whole hours of UTC; days and minutes are those of the wall clock of a place.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from canopy.power.tariff import DAY_MIN, SATURDAY, Tariff, TariffBand

Array = NDArray[np.float64]
Whole = NDArray[np.int64]

HOUR = timedelta(hours=1)


@dataclass(frozen=True)
class HourlyPrices:
    """One price an hour, without a gap.

    Parameters
    ----------
    first : datetime
        When the first hour begins; aware.
    per_kwh : tuple of float
        Below zero where the feed pays for use.
    """

    first: datetime
    per_kwh: tuple[float, ...]

    def __hash__(self) -> int:
        """Return a number by which equal prices are found; of a year of them the first day's."""
        return hash((self.first, len(self.per_kwh), self.per_kwh[:24]))

    @cached_property
    def _tables(self) -> dict[tzinfo, tuple[int, Array]]:
        return {}

    def _days(self, zone: tzinfo) -> tuple[int, Array]:
        """Return prices by day and hour of a place's clock, and the first day's number."""
        if zone not in self._tables:
            self._tables[zone] = _by_day(self, zone)
        return self._tables[zone]

    @property
    def until(self) -> datetime:
        """When the last hour ends."""
        return self.first + len(self.per_kwh) * HOUR

    def joined(self, later: "HourlyPrices", most_hours: int) -> "HourlyPrices":
        """Return these prices with others in their place where both know an hour.

        Where a gap lies between, the others stand alone. The oldest hours beyond the most go.

        >>> day = HourlyPrices(datetime(2026, 1, 1, tzinfo=UTC), (0.1, 0.2, 0.3))
        >>> day.joined(HourlyPrices(day.first + 2 * HOUR, (0.5, 0.6)), 3).per_kwh
        (0.2, 0.5, 0.6)
        """
        if later.first > self.until or later.until < self.first:
            return later
        before = max((later.first - self.first) // HOUR, 0)
        after = max((self.until - later.until) // HOUR, 0)
        prices = (
            *self.per_kwh[:before],
            *later.per_kwh,
            *(self.per_kwh[len(self.per_kwh) - after :] if after else ()),
        )
        cut = max(len(prices) - most_hours, 0)
        return HourlyPrices(min(self.first, later.first) + cut * HOUR, prices[cut:])

    def covers(self, day: date, zone: tzinfo) -> bool:
        """Return whether it says what every hour of a day costs."""
        start, end = _midnights(day, zone)
        return self.first <= start and end <= self.until

    def by_hour(self, day: date, zone: tzinfo) -> Array:
        """Return the price by the hour of the wall clock, shape (24,), nan where not known.

        An hour there twice, when clocks go back, costs the mean of both; one that is left out
        costs what the hour before it does.
        """
        first, table = self._days(zone)
        at = day.toordinal() - first
        return table[at].copy() if 0 <= at < len(table) else np.full(24, np.nan)

    def usual(self, zone: tzinfo) -> tuple[Array, Array]:
        """Return the mean price by hour on workdays and at weekends, each shape (24,).

        Hours never seen on such days cost the mean of the same hours on all days, or of all.
        """
        first, table = self._days(zone)
        weekend = (first + np.arange(len(table)) + SUNDAY_FIRST) % WEEK >= SATURDAY
        everything = _mean(table, np.full(24, np.nanmean(table)))
        return (
            _mean(table[~weekend], everything),
            _mean(table[weekend], everything),
        )


WEEK = 7
SUNDAY_FIRST = 6
"""Day 1 of the proleptic calendar is a Monday."""


def _mean(rows: Array, otherwise: Array) -> Array:
    """Return the mean of each column's known figures, shape (24,)."""
    known = ~np.isnan(rows)
    count = known.sum(axis=0)
    total = np.where(known, rows, 0.0).sum(axis=0)
    return np.where(count > 0, total / np.maximum(count, 1), otherwise)


def _by_day(prices: HourlyPrices, zone: tzinfo) -> tuple[int, Array]:
    """Return prices by day and hour of the wall clock, (days, 24), and the first day's number."""
    local = [(prices.first + k * HOUR).astimezone(zone) for k in range(len(prices.per_kwh))]
    day = np.array([moment.toordinal() for moment in local])
    hour = np.array([moment.hour for moment in local])
    total, often = (np.zeros((day[-1] - day[0] + 1, 24)) for _ in range(2))
    np.add.at(total, (day - day[0], hour), prices.per_kwh)
    np.add.at(often, (day - day[0], hour), 1)
    table = np.divide(total, often, out=np.full(total.shape, np.nan), where=often > 0)
    gone = np.isnan(table)
    skipped = gone[:, 1:-1] & ~gone[:, :-2] & ~gone[:, 2:]
    table[:, 1:-1][skipped] = table[:, :-2][skipped]
    return int(day[0]), table


def _midnights(day: date, zone: tzinfo) -> tuple[datetime, datetime]:
    """Return when a day of the wall clock begins and ends."""
    start = datetime.combine(day, time(), zone).astimezone(UTC)
    return start, datetime.combine(day + timedelta(days=1), time(), zone).astimezone(UTC)


def by_hour_bands(per_kwh: Array) -> tuple[TariffBand, ...]:
    """Return prices of 24 hours as bands."""
    return tuple(TariffBand(60 * h, 60 * h + 60, float(p)) for h, p in enumerate(per_kwh))


@dataclass(frozen=True)
class Contract:
    """What power costs on any day: a tariff, and what is added to hourly prices where there are.

    Parameters
    ----------
    tariff : Tariff
        By itself it says all; hourly prices stand in for its price and its bands.
    zone : tzinfo
        Of the place.
    prices : HourlyPrices, optional
    adds_per_kwh : float
        What comes on top of each hourly price: grid and tax.
    """

    tariff: Tariff
    zone: tzinfo = UTC
    prices: HourlyPrices | None = None
    adds_per_kwh: float = 0.0

    @cached_property
    def _usual(self) -> tuple[Array, Array]:
        assert self.prices is not None
        return self.prices.usual(self.zone)

    def on(self, day: date) -> Tariff:
        """Return a day's prices; those of an hour no file tells are the usual ones of such days."""
        if self.prices is None:
            return self.tariff.on(day)
        hourly = self._by_hour(self.prices, day)
        return replace(self.tariff, per_kwh=float(hourly.mean()), bands=by_hour_bands(hourly))

    def _by_hour(self, prices: HourlyPrices, day: date) -> Array:
        usual = self._usual[day.weekday() >= SATURDAY]
        hourly = prices.by_hour(day, self.zone)
        return np.where(np.isnan(hourly), usual, hourly) + self.adds_per_kwh

    def by_minute(self, days: Sequence[date]) -> Array:
        """Return the price of every minute of some days, shape (days, 1440)."""
        if self.prices is None:
            return np.array([self.tariff.on(day).by_minute() for day in days])
        hours = np.array([self._by_hour(self.prices, day) for day in days])
        result: Array = np.repeat(hours, 60, axis=1)
        return result

    def known(self, day: date) -> bool:
        """Return whether a day's prices are known, not reckoned from days like it."""
        return self.prices is None or self.prices.covers(day, self.zone)


def daily_starts(
    prices: Array, photoperiod_h: float, step_min: int, night_h: float, first: int
) -> Whole:
    """Return when to switch on each day, by a controller that takes another time every day.

    The cheapest of all ways through the days in which the dark between two days' light lasts at
    least as long as the night needed. Ties: the earliest start.

    Parameters
    ----------
    prices : array, shape (days, 1440)
        Of every minute.
    photoperiod_h : float
        The same every day.
    step_min : int
        Of the timer.
    night_h : float
        The dark that has to lie between; at most what the photoperiod leaves of 24 h.
    first : int
        When it came on the day before the first.

    Returns
    -------
    array of int, shape (days,)
        Minutes after midnight.
    """
    minutes = round(photoperiod_h * 60)
    starts = np.arange(0, DAY_MIN, step_min)
    ahead = np.concatenate([prices[1:], prices[-1:]])
    # what runs past midnight is the next day's
    whole = np.cumsum(np.concatenate([prices, ahead], axis=1), axis=1)
    whole = np.concatenate([np.zeros((len(prices), 1)), whole], axis=1)
    cost = whole[:, starts + minutes] - whole[:, starts]
    # from a start to the next day's: a day and the difference, less the light
    back = int(min(max(DAY_MIN - minutes - night_h * 60, 0), DAY_MIN) // step_min)
    total = np.empty_like(cost)
    came = np.empty(cost.shape, dtype=np.int64)
    before = np.where(starts == first - first % step_min, 0.0, np.inf)
    for day in range(len(prices)):
        # a start may come as much earlier as the night can spare, and as much later as one likes
        least, which = _least_until(before)
        reach = np.minimum(np.arange(len(starts)) + back, len(starts) - 1)
        total[day] = cost[day] + least[reach]
        came[day] = which[reach]
        before = total[day]
    at = int(np.argmin(before))
    found = np.empty(len(prices), dtype=np.int64)
    for day in range(len(prices) - 1, -1, -1):
        found[day] = starts[at]
        at = int(came[day, at])
    return found


def _least_until(values: Array) -> tuple[Array, Whole]:
    """Return the least value up to each place, and where it stands."""
    least = np.minimum.accumulate(values)
    new = np.concatenate([[True], least[1:] < least[:-1]])
    return least, np.maximum.accumulate(np.where(new, np.arange(len(values)), 0))


def cost_of_starts(prices: Array, starts: Sequence[int] | Whole, photoperiod_h: float) -> Array:
    """Return each day's mean price a kWh with the lamp coming on at these minutes, (days,)."""
    minutes = round(photoperiod_h * 60)
    ahead = np.concatenate([prices[1:], prices[-1:]])
    both = np.concatenate([prices, ahead], axis=1)
    return np.array([row[at : at + minutes].mean() for row, at in zip(both, starts)])
