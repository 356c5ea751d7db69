"""The light of a stage's lamps at any height and dial: straight between those worked out."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

from canopy.plan.levers import LeverSpace

Array = NDArray[np.float64]
Whole = NDArray[np.int64]


def _around(positions: Array, at: Array) -> tuple[Whole, Whole, Array]:
    """Return the positions on both sides of values, as indices, and the share of the way between.

    The last one stands for all that lies beyond it.
    """
    if len(positions) == 1:
        none = np.zeros(at.shape, np.int64)
        return none, none, np.zeros(at.shape)
    inside = np.clip(at, positions[0], positions[-1])
    after = np.clip(np.searchsorted(positions, inside), 1, len(positions) - 1)
    before = after - 1
    share = (inside - positions[before]) / (positions[after] - positions[before])
    return before, after, share


@dataclass(frozen=True, eq=False)
class Between:
    """Figures of a lever space at heights above the tops in cm and dials in per cent, shape (n,).

    Beyond the heights and dials that were worked out the last of them counts; below its lowest
    mark a dial is off, and only lamps held at their own give light.
    """

    space: LeverSpace

    def _at(self, table: Array, height_cm: ArrayLike, dial_pct: ArrayLike) -> Array:
        """Return a table's figures, bilinear; height and dial broadcast against each other."""
        h, d = np.asarray(height_cm, float), np.asarray(dial_pct, float)
        (low, high, up), (left, right, along) = (
            _around(self.space.heights_cm, h),
            _around(self.space.dials_pct, d),
        )
        below = table[low, left] * (1 - along) + table[low, right] * along
        above = table[high, left] * (1 - along) + table[high, right] * along
        found = below * (1 - up) + above * up
        if not (d <= 0).any():
            return np.asarray(found, dtype=float)
        dark = np.interp(h, self.space.heights_cm, self._held)
        return np.asarray(np.where(d <= 0, dark, found), dtype=float)

    @cached_property
    def _held(self) -> Array:
        held = self.space.held_mean
        return np.zeros(len(self.space.heights_cm)) if held is None else held

    def mean(self, height_cm: ArrayLike, dial_pct: ArrayLike) -> Array:
        """Return the area-weighted mean of the lamps on the plan's own timer, umol m-2 s-1."""
        return self._at(self.space.timed_mean, height_cm, dial_pct)

    def peak(self, height_cm: ArrayLike, dial_pct: ArrayLike) -> Array:
        """Return the brightest spot at any moment, umol m-2 s-1."""
        return self._at(self.space.peak, height_cm, dial_pct)

    def apart_dli(self, height_cm: ArrayLike) -> Array:
        """Return what lamps on a timer of their own add a day, mol m-2 d-1."""
        apart, heights = self.space.apart, self.space.heights_cm
        h = np.asarray(height_cm, float)
        return np.zeros(h.shape) if apart is None else np.interp(h, heights, apart.dli)

    def dli(self, height_cm: ArrayLike, dial_pct: ArrayLike, photoperiod_h: float) -> Array:
        """Return all of a day's light, mol m-2 d-1."""
        lamps = self.space.lamp_dli(self.mean(height_cm, dial_pct), photoperiod_h)
        return np.asarray(lamps + self.apart_dli(height_cm) + self.space.daylight_dli)

    def watts(self, dial_pct: float) -> float:
        """Return what the lamps draw at the wall at a dial."""
        if dial_pct <= 0:
            return 0.0
        return float(np.interp(dial_pct, self.space.dials_pct, self.space.watts))

    def sd(self, height_cm: float, dial_pct: float) -> float:
        """Return how far the mean may be wrong, one standard deviation as a share."""
        h = int(np.abs(self.space.heights_cm - height_cm).argmin())
        d = int(np.abs(self.space.dials_pct - dial_pct).argmin())
        return float(self.space.doubt.at(h, d).mean)
