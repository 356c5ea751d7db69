"""The three levers and everything they can be set to.

Height in cm, dial in per cent of its scale, hours in h. The DLI is linear in the hours, so a
stage's whole space is a few tables over heights and dial positions.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.fixture.dimming import Dimmer
from canopy.light.heightstack import HeightStack
from canopy.quantities import DLI_PER_UMOL_HOUR

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Setting:
    """One position of each lever."""

    height_cm: float
    dial_pct: float
    hours: float


@dataclass(frozen=True)
class Outcome:
    """What a setting gives: PPFD in umol m-2 s-1, DLI in mol m-2 d-1, evenness as min/mean."""

    mean: float
    peak: float
    lowest: float
    evenness: float
    dli: float
    watts: float
    kwh_per_day: float


@dataclass(frozen=True)
class LeverSpace:
    """All reachable settings of one lamp in one tent for one stage.

    Parameters
    ----------
    heights_cm, dials_pct, hours : array
        The positions, ascending; shapes (h,), (d,), (t,).
    mean, peak, lowest, plain_mean : array, shape (h, d)
        PPFD; ``mean`` is area-weighted, ``plain_mean`` the mean of the points.
    light, watts : array, shape (d,)
        Share of full light of the lamps that follow the dial; wall watts of all.
    """

    heights_cm: Array
    dials_pct: Array
    hours: Array
    mean: Array
    peak: Array
    lowest: Array
    plain_mean: Array
    light: Array
    watts: Array

    @property
    def shape(self) -> tuple[int, int, int]:
        """Number of heights, dial positions and photoperiods."""
        return len(self.heights_cm), len(self.dials_pct), len(self.hours)

    @property
    def evenness(self) -> Array:
        """min/mean at every height and dial, shape (h, d)."""
        return np.divide(
            self.lowest, self.plain_mean, out=np.zeros_like(self.lowest), where=self.plain_mean > 0
        )

    def mean_ppfd(self) -> Array:
        """Area-weighted mean, shape (h, d, 1)."""
        return self.mean[:, :, None]

    def peak_ppfd(self) -> Array:
        """Brightest spot, shape (h, d, 1)."""
        return self.peak[:, :, None]

    def dli(self) -> Array:
        """Day's light on the canopy, shape (h, d, t)."""
        return self.mean_ppfd() * (self.hours * DLI_PER_UMOL_HOUR)[None, None, :]

    def kwh(self) -> Array:
        """Energy a day, shape (1, d, t)."""
        return (self.watts[:, None] * self.hours[None, :] / 1000)[None]

    def nearest(self, setting: Setting) -> tuple[int, int, int]:
        """Return the indices of the reachable setting nearest to one asked for."""
        return (
            int(np.abs(self.heights_cm - setting.height_cm).argmin()),
            int(np.abs(self.dials_pct - setting.dial_pct).argmin()),
            int(np.abs(self.hours - setting.hours).argmin()),
        )

    def setting(self, index: tuple[int, int, int]) -> Setting:
        """Return the setting at indices."""
        h, d, t = index
        return Setting(float(self.heights_cm[h]), float(self.dials_pct[d]), float(self.hours[t]))

    def outcome(self, index: tuple[int, int, int]) -> Outcome:
        """Return what the setting at indices gives."""
        h, d, t = index
        mean, watts, hours = float(self.mean[h, d]), float(self.watts[d]), float(self.hours[t])
        plain = float(self.plain_mean[h, d])
        return Outcome(
            mean=mean,
            peak=float(self.peak[h, d]),
            lowest=float(self.lowest[h, d]),
            evenness=float(self.lowest[h, d]) / plain if plain else 0.0,
            dli=mean * hours * DLI_PER_UMOL_HOUR,
            watts=watts,
            kwh_per_day=watts * hours / 1000,
        )


def lever_space(
    stack: HeightStack,
    dimmer: Dimmer,
    full_watts: float,
    hours: Array,
    steady: Array | None = None,
    steady_watts: float = 0.0,
) -> LeverSpace:
    """Return every reachable setting from a height stack, a dial and the timer's hours.

    Parameters
    ----------
    stack : HeightStack
        Of the lamps that follow the dial, at full light.
    dimmer : Dimmer
    full_watts : float
        Of the same lamps.
    hours : array, shape (t,)
    steady : array, shape (h, points), optional
        What lamps held at their own dial add at every height.
    steady_watts : float
        What those draw.
    """
    dials = dimmer.positions_pct()
    light = dimmer.light_fraction(dials)
    if steady is None:
        tables = [
            np.outer(per_height, light)
            for per_height in (
                stack.ppfd @ stack.weights,
                stack.ppfd.max(axis=1),
                stack.ppfd.min(axis=1),
                stack.ppfd.mean(axis=1),
            )
        ]
    else:
        maps = stack.ppfd[:, None, :] * light[None, :, None] + steady[:, None, :]
        tables = [maps @ stack.weights, maps.max(axis=2), maps.min(axis=2), maps.mean(axis=2)]
    mean, peak, lowest, plain_mean = tables
    return LeverSpace(
        heights_cm=stack.heights_cm,
        dials_pct=dials,
        hours=hours,
        mean=mean,
        peak=peak,
        lowest=lowest,
        plain_mean=plain_mean,
        light=light,
        watts=full_watts * dimmer.watts_fraction(dials) + steady_watts,
    )
