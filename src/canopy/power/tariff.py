"""What a kWh costs by the time of day, and when a lamp is best lit. Minutes after midnight."""

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError

Array = NDArray[np.float64]
Days = Literal["all", "workdays", "weekend"]
DAYS: tuple[Days, ...] = ("all", "workdays", "weekend")

DAY_MIN = 1440
LEAP_YEAR = 2028
SATURDAY = 5
COOLEST_MIN = 4 * 60
"""The coolest minute of a night, about. Common practice, no source."""


@dataclass(frozen=True)
class TariffBand:
    """Hours with a price of their own; they may run past midnight.

    Parameters
    ----------
    from_minute, to_minute : int
    per_kwh : float
    days : {'all', 'workdays', 'weekend'}
        On which they hold: Monday to Friday, or Saturday and Sunday. What runs past midnight
        belongs to every day by itself.
    first, last : str
        From and until which day of the year, like ``'10-01'``; all year without them. They may
        run past its end.

    Raises
    ------
    CanopyError
        When one of them is no day, or stands alone.
    """

    from_minute: int
    to_minute: int
    per_kwh: float
    days: Days = "all"
    first: str = ""
    last: str = ""

    def __post_init__(self) -> None:
        """Refuse days of the year that are none."""
        if bool(self.first) != bool(self.last):
            raise CanopyError("Give both the first and the last day, or neither.", "first")
        for name in ("first", "last"):
            day = getattr(self, name)
            try:
                if day:
                    date.fromisoformat(f"{LEAP_YEAR}-{day}")
            except ValueError as error:
                raise CanopyError(f"{day} is no day; write it like 10-31.", name) from error

    def holds(self, day: date) -> bool:
        """Return whether it holds on a day.

        >>> TariffBand(0, 0, 0.1, "weekend").holds(date(2026, 11, 28))
        True
        >>> TariffBand(0, 0, 0.1, first="10-01", last="03-31").holds(date(2026, 7, 1))
        False
        """
        if self.days != "all" and (self.days == "weekend") != (day.weekday() >= SATURDAY):
            return False
        if not self.first:
            return True
        now = f"{day:%m-%d}"
        if self.first <= self.last:
            return self.first <= now <= self.last
        return now >= self.first or now <= self.last


@dataclass(frozen=True)
class Tier:
    """Each kWh of a month above so many costs so much more, or less."""

    above_kwh: float
    adds_per_kwh: float


@dataclass(frozen=True)
class Tariff:
    """A price by the time of day: flat, but for the bands; a later band wins over an earlier.

    Parameters
    ----------
    per_kwh : float
    bands : tuple of TariffBand
    tiers : tuple of Tier
        By the month's use; those that hold add up.
    standing_per_day : float
        Due whatever is used.
    """

    per_kwh: float
    bands: tuple[TariffBand, ...] = ()
    tiers: tuple[Tier, ...] = ()
    standing_per_day: float = 0.0

    def on(self, day: date) -> "Tariff":
        """Return it with the bands of one day only."""
        if all(band.days == "all" and not band.first for band in self.bands):
            return self
        return replace(self, bands=tuple(band for band in self.bands if band.holds(day)))

    def by_minute(self) -> Array:
        """Return the price of every minute, shape (1440,)."""
        minute = np.arange(DAY_MIN)
        price = np.full(DAY_MIN, float(self.per_kwh))
        for band in self.bands:
            length = (band.to_minute - band.from_minute) % DAY_MIN or DAY_MIN
            price[(minute - band.from_minute) % DAY_MIN < length] = band.per_kwh
        return price

    def spans(self) -> list[TariffBand]:
        """Return the day from midnight on in spans of one price each; none without bands.

        >>> Tariff(0.30, (TariffBand(1320, 360, 0.20),)).spans()[0].per_kwh
        0.2
        """
        if not self.bands:
            return []
        return _spans(self.by_minute())

    def tiers_cost(self, month_kwh: float) -> float:
        """Return what a month's use costs more than its hours' prices say.

        >>> round(Tariff(0.25, tiers=(Tier(100, 0.05), Tier(300, 0.02))).tiers_cost(350), 2)
        13.5
        """
        return sum(max(month_kwh - t.above_kwh, 0.0) * t.adds_per_kwh for t in self.tiers)


def _spans(price: Array) -> list[TariffBand]:
    edges = [0, *(np.flatnonzero(np.diff(price)) + 1).tolist(), len(price)]
    return [TariffBand(a, b, float(price[a])) for a, b in pairwise(edges)]


def mean_of(days: Sequence[Tariff]) -> Tariff:
    """Return a tariff whose every minute costs the mean of several days' of one contract.

    >>> night = TariffBand(0, 360, 0.1)
    >>> mean_of([Tariff(0.3, (night,)), Tariff(0.3)]).spans()[0].per_kwh
    0.2
    """
    kinds = Counter(days)
    if len(kinds) == 1:
        return days[0]
    each = [kind.by_minute() for kind in kinds]
    price = np.average(each, axis=0, weights=list(kinds.values()))
    return replace(days[0], bands=tuple(_spans(np.round(price, 9))))


def starts_sum(values: Array, minutes: int) -> Array:
    """Return the sum over a window of minutes from each start on; (..., 1440) as ``values``."""
    twice = np.concatenate([values, values], axis=-1)
    whole = np.concatenate([np.zeros((*values.shape[:-1], 1)), np.cumsum(twice, axis=-1)], axis=-1)
    result: Array = whole[..., minutes : minutes + DAY_MIN] - whole[..., :DAY_MIN]
    return result


def cost_of_day(tariff: Tariff, on_minute: int, photoperiod_h: float, kwh: float) -> float:
    """Return what a day's light costs when the energy is spread evenly over the lit hours.

    >>> cost_of_day(Tariff(0.30), 360, 12, 2.0)
    0.6
    """
    minutes = round(photoperiod_h * 60)
    if minutes == 0:
        return 0.0
    return round(_mean_price(tariff, on_minute % DAY_MIN, minutes) * kwh, 9)


@lru_cache(maxsize=4096)
def _mean_price(tariff: Tariff, on_minute: int, minutes: int) -> float:
    """Return the mean price over a window; most days of a season have the same."""
    return float(starts_sum(tariff.by_minute(), minutes)[on_minute] / minutes)


def best_start(
    tariff: Tariff,
    photoperiod_h: float,
    step_min: int,
    wish: str,
    present: int,
    allowed: Callable[[int], bool] = lambda _: True,
) -> int:
    """Return when to switch on.

    Parameters
    ----------
    tariff : Tariff
    photoperiod_h : float
    step_min : int
        Of the timer.
    wish : {'fixed', 'cheap', 'cool'}
        Stay at the present time; in the cheapest hours; or round the night's coolest hour, when
        the lamp's heat is most welcome. Equal starts: the one nearest the present.
    present : int
    allowed : callable
        Whether a start will do; where none does, all count.

    Raises
    ------
    CanopyError
        When the wish is none of these.
    """
    if wish == "fixed":
        return present % DAY_MIN
    starts = np.arange(0, DAY_MIN, step_min)
    minutes = round(photoperiod_h * 60)
    if wish == "cheap":
        score = starts_sum(tariff.by_minute(), minutes)[starts]
    elif wish == "cool":
        away = (starts + minutes / 2 - COOLEST_MIN + DAY_MIN / 2) % DAY_MIN - DAY_MIN / 2
        score = np.abs(away)
    else:
        raise CanopyError("Choose fixed, cheap or cool hours.", "on_wish")
    fit = np.array([allowed(int(start)) for start in starts])
    if fit.any():
        starts, score = starts[fit], score[fit]
    near = starts[score <= score.min() + 1e-9]
    off = np.abs((near - present + DAY_MIN / 2) % DAY_MIN - DAY_MIN / 2)
    return int(near[int(off.argmin())])
