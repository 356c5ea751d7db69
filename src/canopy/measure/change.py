"""Before, after and before again: what one change did at each spot, and what cannot be.

A lamp warms up, a hand slips, clouds go by: what the two befores differ by says how much of the
gain is noise. Lengths in cm, PPFD in umol m-2 s-1.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import hypot, sqrt

import numpy as np
from numpy.typing import NDArray
from scipy.stats import t as student

from canopy.constants import NINETY
from canopy.errors import CanopyError
from canopy.measure.readings import SPOT_SD
from canopy.words import Said, said

Array = NDArray[np.float64]

BELIEF = 0.90
"""A range holds so much; a gain whose range leaves out none is more than the noise."""

RISES_SHARE = 0.02
"""A hand's error; light that rises by more where it should fall by more cannot be."""


@dataclass(frozen=True)
class Gain:
    """What a change did to some light: its factor less 1, and the ends of its 90 % range."""

    share: float
    low: float
    high: float

    @property
    def real(self) -> bool:
        """Return whether it is more than the noise."""
        return self.low > 0 or self.high < 0


@dataclass(frozen=True)
class Changed:
    """What a change did at each spot, to their mean, and how far the two befores lie apart."""

    spots: tuple[Gain, ...]
    mean: Gain
    drift: float
    noise: float


def _logs(name: str, values: Sequence[float]) -> Array:
    rows = np.asarray(values, dtype=float)
    if not len(rows):
        raise CanopyError("Give a reading at one spot at least.", name)
    if not (np.isfinite(rows) & (rows > 0)).all():
        raise CanopyError("Every reading has to be above 0.", name)
    return np.asarray(np.log(rows))


def changed(
    before: Sequence[float], after: Sequence[float], again: Sequence[float] | None = None
) -> Changed:
    """Return what a change did, by readings at the same spots in the same order.

    Parameters
    ----------
    before, after : sequence of float, length n
    again : sequence of float, length n, optional
        Once more without the change. Without it the noise is a hand's.

    Raises
    ------
    CanopyError
        When the numbers of spots differ or a reading is not above 0.
    """
    first, then = _logs("before", before), _logs("after", after)
    back = first if again is None else _logs("again", again)
    if not len(first) == len(then) == len(back):
        raise CanopyError("Before, after and again need the same spots in the same order.", "after")
    count = len(first)
    steps = back - first
    drift = float(steps.mean())
    # what the lamp did as a whole lies between the two; what is left at spots is the hand
    gains = then - (first + back) / 2
    hand, freedom = SPOT_SD, 1e6
    if again is not None and count > 1:
        own = float(np.sqrt(((steps - drift) ** 2).sum() / (count - 1) / 2))
        # a hand is known beforehand about as well as by five spots
        hand = sqrt((5 * SPOT_SD**2 + (count - 1) * own**2) / (count + 4))
        freedom = count + 4
    noise = hand * sqrt(2.0 if again is None else 1.5)
    # half of what it drifted may have come before the change, or after it
    common = abs(drift) / 2 / NINETY
    wide = float(student.ppf(0.5 + BELIEF / 2, freedom))
    spots = tuple(_gain(float(g), wide * hypot(noise, common)) for g in gains)
    mean = _gain(float(gains.mean()), wide * hypot(noise / sqrt(count), common))
    return Changed(spots, mean, float(np.expm1(drift)), hand)


def _gain(log_gain: float, by: float) -> Gain:
    return Gain(*(float(np.expm1(v)) for v in (log_gain, log_gain - by, log_gain + by)))


def cannot_be(
    rows: Sequence[tuple[float, float, float, float]], expected: Sequence[float]
) -> tuple[Said, ...]:
    """Return readings that rise as the lamp goes up, where light can only fall.

    Parameters
    ----------
    rows : sequence of (x_cm, y_cm, height_cm, ppfd)
        At full light.
    expected : sequence of float
        What the model gives there: between bars, or far beside a lamp, light may well rise.
    """
    found = []
    by_spot: dict[tuple[float, float], list[tuple[float, float, float]]] = {}
    for (x, y, height, ppfd), light in zip(rows, expected):
        by_spot.setdefault((x, y), []).append((height, ppfd, light))
    for series in by_spot.values():
        for (low, more, bright), (high, less, dim) in pairwise(sorted(series)):
            falls = high > low and dim < bright * (1 - RISES_SHARE)
            if falls and less > more * (1 + RISES_SHARE):
                found.append(
                    said("fit.rises", low_cm=low, high_cm=high, low_ppfd=more, high_ppfd=less)
                )
    return tuple(found)
