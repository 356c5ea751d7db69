"""What a lamp's time switched on loses of its full light: ramps, and a controller in the heat."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from canopy.crop.night import DAY_MIN
from canopy.daylight.background import too_warm
from canopy.daylight.lampday import LampDay, Window

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Heat:
    """A controller that keeps the lamp off above a temperature, and how warm the days are, °C."""

    mean_c: float
    swing_c: float
    off_above_c: float


@dataclass(frozen=True)
class Losses:
    """Hours of full light lost, by how long the lamp is switched on.

    Parameters
    ----------
    ramp_min : float
        The lamp's sunrise and its sunset, each: together they cost as much full light, in every
        window.
    heat : Heat, optional
    day : LampDay
        When in the day the lamp is on: how often, and in which hours.
    """

    ramp_min: float = 0.0
    heat: Heat | None = None
    day: LampDay = LampDay()  # noqa: RUF009 - frozen

    def lost_h(self, photoperiod_h: Array | float) -> Array:
        """Return the hours lost of photoperiods in h, same shape."""
        if self.heat is None and (self.day.sun is None or self.day.one_window):
            return np.zeros_like(photoperiod_h, dtype=float) + self.ramp_min / 60
        minutes = np.clip(np.round(np.asarray(photoperiod_h) * 60), 0, DAY_MIN).astype(int)
        different, which = np.unique(minutes, return_inverse=True)
        lost = np.array([_lost_min(self, int(each)) for each in different])
        return np.asarray(lost[which].reshape(minutes.shape) / 60)

    def full_in(self, windows: tuple[Window, ...]) -> float:
        """Return the hours of full light in windows that are not the day's own."""
        on_min = sum(round(window.hours * 60) for window in windows)
        return max(on_min - _lost_in(self.ramp_min, self.heat, windows), 0.0) / 60

    def full_h(self, photoperiod_h: Array | float) -> Array:
        """Return the hours of full light in photoperiods in h, same shape."""
        return np.maximum(np.asarray(photoperiod_h) - self.lost_h(photoperiod_h), 0.0)


NO_LOSSES = Losses()


@lru_cache(maxsize=8192)
def _lost_min(losses: Losses, minutes: int) -> float:
    """Return the minutes of full light lost of so many the lamp is switched on."""
    return _lost_in(losses.ramp_min, losses.heat, losses.day.windows(minutes / 60))


def _lost_in(ramp_min: float, heat: Heat | None, windows: tuple[Window, ...]) -> float:
    """Return the minutes of full light lost of windows; each has its own ramps."""
    lost = ramp_min * len(windows)
    if heat is None:
        return lost
    warm = _too_warm(heat)
    return lost + float(sum(np.count_nonzero(warm & window.lit()) for window in windows))


@lru_cache(maxsize=64)
def _too_warm(heat: Heat) -> NDArray[np.bool_]:
    """Return in which minutes of the day the lamp is kept off, shape (1440,)."""
    return too_warm(heat.mean_c, heat.swing_c, heat.off_above_c)
