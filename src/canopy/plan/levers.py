"""The three levers and everything they can be set to.

Height in cm, dial in per cent of its scale, hours in h. The DLI is linear in the hours, so a
stage's whole space is a few tables over heights and dial positions.
"""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.crop.night import DAY_MIN
from canopy.crop.targets import StageTarget
from canopy.daylight.losses import NO_LOSSES, Losses
from canopy.fixture.dimming import Dimmer
from canopy.light.heightstack import HeightStack
from canopy.plan.doubts import Doubts, usual_doubts
from canopy.quantities import DLI_PER_UMOL_HOUR, hours_for_dli

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
Cells = NDArray[np.int64] | int

Basis = Literal["uncalibrated", "learnt", "readings", "rebased", "fitted"]
"""What the light at a height is known by; see :mod:`canopy.plan.certainty`."""

SAME = 1e-9
"""Relative difference below which a figure is at a limit and not beyond it: rounding errors."""


def no_less(value: Array | float, limit: float) -> Mask:
    """Return whether values are at a limit or above it, same shape."""
    return np.asarray(value >= limit * (1 - SAME))


def no_more(value: Array | float, limit: float) -> Mask:
    """Return whether values are at a limit or below it, same shape."""
    return np.asarray(value <= limit * (1 + SAME))


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
class Locks:
    """Levers that stay where they are: positions, ``None`` where free.

    One that is free takes the positions its space leaves to the plan.
    """

    height_cm: float | None = None
    dial_pct: float | None = None
    hours: float | None = None

    def allowed(self, space: "LeverSpace") -> Mask:
        """Return which settings keep every locked lever at its nearest position."""
        free: list[Mask] = []
        for at, positions, choices in zip(
            (self.height_cm, self.dial_pct, self.hours),
            (space.heights_cm, space.dials_pct, space.hours),
            (space.height_choices, None, space.hours_choices),
        ):
            mask = np.ones(len(positions), bool) if choices is None else choices.copy()
            if at is not None:
                mask[:] = False
                mask[int(np.abs(positions - at).argmin())] = True
            free.append(mask)
        return free[0][:, None, None] & free[1][None, :, None] & free[2][None, None, :]


FREE = Locks()


@dataclass(frozen=True)
class Apart:
    """Lamps on a timer of their own, which none of the three levers moves.

    Parameters
    ----------
    beside : array, shape (h,)
        The mean PPFD, with the rail at every height, of those that are on at some time together
        with the plan's own.
    dli : array, shape (h,)
        What all of them add to the day's light, mol m-2 d-1.
    kwh_per_day : float
    """

    beside: Array
    dli: Array
    kwh_per_day: float


@dataclass(frozen=True)
class LeverSpace:
    """All reachable settings of one lamp in one tent for one stage.

    Parameters
    ----------
    heights_cm, dials_pct, hours : array
        The positions, ascending; shapes (h,), (d,), (t,).
    mean, peak, lowest, plain_mean : array, shape (h, d)
        PPFD; ``mean`` is area-weighted, ``plain_mean`` the mean of the points. With lamps on a
        timer of their own in it where those are on together with the others; the ``peak`` is that
        of any moment.
    light, watts : array, shape (d,)
        Share of full light of the lamps that follow the dial; wall watts of all.
    losses : Losses
        What ramps, and a controller that switches off in the heat, take from the time the lamp is
        on.
    daylight_dli : float
        What daylight adds at the tops, mol m-2 d-1.
    held_mean : array, shape (h,), optional
        What of the mean comes from lamps held at their own dial.
    apart : Apart, optional
        Lamps on a timer of their own.
    height_choices, hours_choices : array of bool, shapes (h,) and (t,), optional
        Positions a plan may choose; the others can only be tried. All when left out.
    height_reach : array of bool, shape (h,), optional
        Heights that could be chosen if the maker's range were let go.
    bases : tuple of str, length h, optional
        What the light at each height is known by; nothing measured when left out.
    doubts : Doubts, optional
        How far it may be wrong; as usual for a lamp nothing was measured of when left out.
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
    losses: Losses = NO_LOSSES
    daylight_dli: float = 0.0
    held_mean: Array | None = None
    apart: Apart | None = None
    height_choices: Mask | None = None
    hours_choices: Mask | None = None
    height_reach: Mask | None = None
    bases: tuple[Basis, ...] = ()
    doubts: Doubts | None = None

    @cached_property
    def doubt(self) -> Doubts:
        """How far the light may be wrong at every height and dial."""
        return self.doubts or usual_doubts(len(self.heights_cm), len(self.dials_pct))

    def choosing(self) -> "LeverSpace":
        """Return the space with those hours alone that a plan may choose."""
        keep = self.hours_choices
        if keep is None or keep.all():
            return self
        return replace(self, hours=self.hours[keep], hours_choices=None)

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

    @property
    def full_hours(self) -> Array:
        """Hours of full light at every photoperiod, shape (t,)."""
        return self.losses.full_h(self.hours)

    @property
    def step_h(self) -> float:
        """The timer's step."""
        return float(self.hours[1] - self.hours[0]) if len(self.hours) > 1 else float(self.hours[0])

    @cached_property
    def timed_mean(self) -> Array:
        """Area-weighted mean of the lamps on the plan's own timer, shape (h, d)."""
        return self.mean if self.apart is None else self.mean - self.apart.beside[:, None]

    @cached_property
    def other_dli(self) -> Array:
        """What daylight and lamps on a timer of their own add at every height, shape (h,)."""
        apart = np.zeros(len(self.heights_cm)) if self.apart is None else self.apart.dli
        return apart + self.daylight_dli

    def lamp_dli(self, mean: Array | float, photoperiod_h: Array | float) -> Array:
        """Return the day's light by lamps on the plan's timer for means and photoperiods."""
        return np.asarray(mean * self.losses.full_h(photoperiod_h) * DLI_PER_UMOL_HOUR)

    def day_dli(self, h: Cells, d: Cells, photoperiod_h: Array | float) -> Array:
        """Return all of the day's light at heights and dials, as indices, over photoperiods."""
        return self.lamp_dli(self.timed_mean[h, d], photoperiod_h) + self.other_dli[h]

    def mean_for(self, dli: float, photoperiod_h: float, h: Cells) -> Array:
        """Return the mean of the plan's own lamps that gives a DLI at heights, as indices.

        Infinite in no time; not above 0 when all other light gives it.
        """
        full_h = float(self.losses.full_h(photoperiod_h))
        per_umol = full_h * DLI_PER_UMOL_HOUR
        left = np.asarray(dli - self.other_dli[h])
        return left / per_umol if per_umol > 0 else np.full(left.shape, np.inf)

    def lamp_band(self, target: StageTarget, photoperiod_h: float) -> tuple[float, float]:
        """Return the PPFD band for the lamps: the grower's own, or what is left of the DLI band.

        The light of lamps apart is thought spread over the plan's own hours.
        """
        if target.own_ppfd_band is not None:
            return target.own_ppfd_band
        per_umol = float(self.lamp_dli(1.0, photoperiod_h))
        ends = (target.dli_low - self.daylight_dli, target.dli_high - self.daylight_dli)
        low, high = (max(end / per_umol, 0.0) if per_umol > 0 else 0.0 for end in ends)
        return low, high

    def lowest_safe(self, cap: float, dial: int, height: int) -> int:
        """Return how near the lamp may come from a height at a dial before a cap is passed.

        Indices in and out. All the way down every height has to keep it; where the cap is passed
        already, that height itself.
        """
        unsafe = np.flatnonzero(~no_more(self.peak[: height + 1, dial], cap))
        return min(int(unsafe[-1]) + 1, height) if len(unsafe) else 0

    def timer_hours_for(self, dli: float, h: int, d: int, most: float) -> float:
        """Return the timer's hours for a DLI at indices of height and dial.

        Rounded up, or down where that passes most; the longest day when no day is long enough.
        """
        given = self.lamp_dli(float(self.timed_mean[h, d]), self.hours) + self.other_dli[h]
        reached = np.flatnonzero(no_less(given, dli))
        at = int(reached[0]) if len(reached) else len(self.hours) - 1
        if at and not no_more(float(given[at]), most):
            at -= 1
        return float(self.hours[at])

    def dli(self) -> Array:
        """Day's light on the canopy, lamp and daylight, shape (h, d, t)."""
        lamp = self.lamp_dli(self.timed_mean[:, :, None], self.hours[None, None, :])
        return lamp + self.other_dli[:, None, None]

    def kwh(self) -> Array:
        """Energy a day, shape (1, d, t)."""
        apart = 0.0 if self.apart is None else self.apart.kwh_per_day
        return (self.watts[:, None] * self.full_hours[None, :] / 1000)[None] + apart

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

    def hours_for(self, dli: float, index: tuple[int, int, int]) -> float | None:
        """Return the hours, not rounded to the timer, that give a DLI.

        At a height and dial; ``None`` when no day is long enough, or daylight alone gives it.
        """
        mean = float(self.timed_mean[index[0], index[1]])
        wanted = dli - float(self.other_dli[index[0]])
        if mean <= 0 or wanted <= 0:
            return None
        minutes = np.arange(DAY_MIN + 1) / 60
        full, needed = self.losses.full_h(minutes), hours_for_dli(wanted, mean)
        enough = np.flatnonzero(no_less(full, needed))
        if not len(enough):
            return None
        # between two minutes it runs straight
        around = slice(max(int(enough[0]) - 1, 0), int(enough[0]) + 1)
        return float(np.interp(needed, full[around], minutes[around]))

    def day_h(self, index: tuple[int, int, int]) -> float:
        """Return how long the crop's day is with the setting at indices."""
        hours = float(self.hours[index[2]])
        return hours if self.losses.day.sun is None else self.losses.day.day_h(hours)

    def outcome(self, index: tuple[int, int, int]) -> Outcome:
        """Return what the setting at indices gives."""
        h, d, t = index
        watts, hours = float(self.watts[d]), float(self.full_hours[t])
        plain = float(self.plain_mean[h, d])
        apart = 0.0 if self.apart is None else self.apart.kwh_per_day
        return Outcome(
            mean=float(self.mean[h, d]),
            peak=float(self.peak[h, d]),
            lowest=float(self.lowest[h, d]),
            evenness=float(self.lowest[h, d]) / plain if plain else 0.0,
            dli=float(self.timed_mean[h, d]) * hours * DLI_PER_UMOL_HOUR + float(self.other_dli[h]),
            watts=watts,
            kwh_per_day=watts * hours / 1000 + apart,
        )


@dataclass(frozen=True)
class ApartLamps:
    """As :class:`Apart`, in maps of shape (h, points).

    ``alone`` is the PPFD of those that are never on together with the plan's own.
    """

    beside: Array
    alone: Array
    dli: Array
    kwh_per_day: float


def _meant(apart: ApartLamps, spots: Mask, weights: Array) -> Apart:
    return Apart(apart.beside[:, spots] @ weights, apart.dli[:, spots] @ weights, apart.kwh_per_day)


def lever_space(
    stack: HeightStack,
    dimmer: Dimmer,
    full_watts: float,
    hours: Array,
    steady: Array | None = None,
    steady_watts: float = 0.0,
    losses: Losses = NO_LOSSES,
    daylight_dli: float = 0.0,
    standing: Mask | None = None,
    apart: ApartLamps | None = None,
    peak_gain: Array | None = None,
    low_gain: Array | None = None,
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
    losses, daylight_dli : Losses, float
        See :class:`LeverSpace`.
    standing : array of bool, shape (points,), optional
        Where plants stand; only there the light counts. Everywhere when left out.
    apart : ApartLamps, optional
        Lamps on a timer of their own.
    peak_gain : array, shape (h,), optional
        By how much the brightest spot, between the points, is brighter than the brightest point.
    low_gain : array, shape (h,), optional
        The same of the dimmest.
    """
    ppfd, weights = stack.ppfd, stack.weights
    spots = np.ones(len(weights), bool)
    if standing is not None and standing.any():
        ppfd, weights = ppfd[:, standing], weights[standing] / weights[standing].sum()
        steady, spots = None if steady is None else steady[:, standing], standing
    held_mean = None if steady is None else steady @ weights
    if apart is not None:
        steady = apart.beside[:, spots] + (0.0 if steady is None else steady)
    dials = dimmer.positions_pct()
    light = dimmer.light_fraction(dials)
    if steady is None:
        tables = [
            np.outer(per_height, light)
            for per_height in (
                ppfd @ weights,
                ppfd.max(axis=1),
                ppfd.min(axis=1),
                ppfd.mean(axis=1),
            )
        ]
    else:
        maps = ppfd[:, None, :] * light[None, :, None] + steady[:, None, :]
        tables = [maps @ weights, maps.max(axis=2), maps.min(axis=2), maps.mean(axis=2)]
    mean, peak, lowest, plain_mean = tables
    if peak_gain is not None:
        peak = peak * peak_gain[:, None]
    if low_gain is not None:
        lowest = lowest * low_gain[:, None]
    if apart is not None:
        peak = np.maximum(peak, apart.alone[:, spots].max(axis=1)[:, None])
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
        losses=losses,
        daylight_dli=daylight_dli,
        held_mean=held_mean,
        apart=None if apart is None else _meant(apart, spots, weights),
    )
