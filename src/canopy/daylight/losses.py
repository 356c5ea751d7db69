"""What a lamp's time switched on loses of its full light: ramps, and a controller in the heat."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from canopy.daylight.background import too_warm

Array = NDArray[np.float64]

DAY_MIN = 1440


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
        The lamp's sunrise and its sunset, each: together they cost as much full light.
    heat : Heat, optional
    on_minute : int
        When the lamp comes on, minutes after midnight; it matters in the heat.
    """

    ramp_min: float = 0.0
    heat: Heat | None = None
    on_minute: int = 0

    def lost_h(self, photoperiod_h: Array | float) -> Array:
        """Return the hours lost of photoperiods in h, same shape."""
        ramps = np.zeros_like(photoperiod_h, dtype=float) + self.ramp_min / 60
        if self.heat is None:
            return ramps
        minutes = np.clip(np.round(np.asarray(photoperiod_h) * 60), 0, DAY_MIN).astype(int)
        return np.asarray(ramps + _off_minutes(self.heat, self.on_minute)[minutes] / 60)

    def full_h(self, photoperiod_h: Array | float) -> Array:
        """Return the hours of full light in photoperiods in h, same shape."""
        return np.maximum(np.asarray(photoperiod_h) - self.lost_h(photoperiod_h), 0.0)


NO_LOSSES = Losses()


@lru_cache(maxsize=64)
def _off_minutes(heat: Heat, on_minute: int) -> Array:
    """Return for how many of its first minutes a lamp is kept off, shape (1441,)."""
    warm = np.roll(too_warm(heat.mean_c, heat.swing_c, heat.off_above_c), -on_minute)
    off = np.concatenate([[0.0], np.cumsum(warm)])
    off.flags.writeable = False
    return off
