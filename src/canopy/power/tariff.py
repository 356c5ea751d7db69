"""What a kWh costs by the time of day, and when a lamp is best lit. Minutes after midnight."""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError

Array = NDArray[np.float64]

DAY_MIN = 1440
COOLEST_MIN = 4 * 60
"""The coolest minute of a night, about. Common practice, no source."""


@dataclass(frozen=True)
class TariffBand:
    """Hours with a price of their own; they may run past midnight."""

    from_minute: int
    to_minute: int
    per_kwh: float


@dataclass(frozen=True)
class Tariff:
    """A price by the time of day: flat, but for the bands; a later band wins over an earlier."""

    per_kwh: float
    bands: tuple[TariffBand, ...] = ()

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

        >>> Tariff(0.30, (TariffBand(1320, 360, 0.20),)).spans()[0]
        TariffBand(from_minute=0, to_minute=360, per_kwh=0.2)
        """
        if not self.bands:
            return []
        price = self.by_minute()
        edges = [0, *(np.flatnonzero(np.diff(price)) + 1).tolist(), len(price)]
        return [TariffBand(a, b, float(price[a])) for a, b in pairwise(edges)]


def _starts(values: Array, minutes: int) -> Array:
    """Return the sum over a window of minutes from each start on, shape (1440,)."""
    twice = np.concatenate([[0.0], np.cumsum(np.concatenate([values, values]))])
    result: Array = twice[minutes : minutes + DAY_MIN] - twice[:DAY_MIN]
    return result


def cost_of_day(tariff: Tariff, on_minute: int, photoperiod_h: float, kwh: float) -> float:
    """Return what a day's light costs when the energy is spread evenly over the lit hours.

    >>> cost_of_day(Tariff(0.30), 360, 12, 2.0)
    0.6
    """
    minutes = round(photoperiod_h * 60)
    if minutes == 0:
        return 0.0
    mean = _starts(tariff.by_minute(), minutes)[on_minute % DAY_MIN] / minutes
    return round(float(mean * kwh), 9)


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
        score = _starts(tariff.by_minute(), minutes)[starts]
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
