"""What meters tell: energy from watts or from a counter, and a day minute by minute.

Times are seconds of any one clock, in order; a day's minutes count from its midnight.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from canopy.crop.night import DAY_MIN

Floats = NDArray[np.float64]

QuantityName = Literal[
    "power",
    "energy",
    "voltage",
    "current",
    "temperature",
    "humidity",
    "ppfd",
    "illuminance",
    "switch",
    "output",
]

MOST_GAP_S = 900.0
"""Two readings further apart say nothing of the time between. Common practice, no source."""

J_PER_KWH = 3.6e6
"""Exact."""


@dataclass(frozen=True)
class Metered:
    """Energy in kWh, and the hours it is known for."""

    kwh: float
    hours: float


def energy_of(at_s: ArrayLike, watts: ArrayLike, most_gap_s: float = MOST_GAP_S) -> Metered:
    """Return the energy that readings of watts tell: the trapezoidal rule, gaps left out.

    >>> energy_of([0, 600, 1200], [120, 120, 120])
    Metered(kwh=0.04, hours=0.3333333333333333)
    """
    at, drawn = np.asarray(at_s, dtype=float), np.asarray(watts, dtype=float)
    if len(at) < 2:
        return Metered(0.0, 0.0)
    steps = np.diff(at)
    known = steps <= most_gap_s
    joules = ((drawn[1:] + drawn[:-1]) / 2 * steps)[known].sum()
    return Metered(float(joules / J_PER_KWH), float(steps[known].sum() / 3600))


def counted_kwh(readings: ArrayLike) -> float:
    """Return what a counter of kWh has counted from its first reading to its last.

    One that falls has begun anew: what it shows then was counted since.

    >>> counted_kwh([10.0, 10.5, 0.25, 0.5])
    1.0
    """
    shown = np.asarray(readings, dtype=float)
    if len(shown) < 2:
        return 0.0
    grown = np.diff(shown)
    return float(np.where(grown >= 0, grown, shown[1:]).sum())


HOLD_MIN = 15
"""A reading holds until the next, but no longer than this."""


def by_minute(minutes: ArrayLike, values: ArrayLike, hold_min: int = HOLD_MIN) -> Floats:
    """Return a day's readings minute by minute, shape (1440,): the last one holds; NaN unknown."""
    at, shown = np.asarray(minutes, dtype=float), np.asarray(values, dtype=float)
    found = np.full(DAY_MIN, np.nan)
    if not len(at):
        return found
    ends = np.arange(DAY_MIN) + 1.0
    last = np.searchsorted(at, ends, side="left") - 1
    has = last >= 0
    age = np.where(has, ends - 1 - at[np.maximum(last, 0)], np.inf)
    known = has & (age <= hold_min)
    found[known] = shown[last[known]]
    return found
