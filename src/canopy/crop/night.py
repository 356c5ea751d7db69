"""Whether a schedule and the daylight leave a crop its night. Minutes after midnight."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.crop.targets import StageTarget
from canopy.words import Said, said

Mask = NDArray[np.bool_]

DAY_MIN = 1440


def lamp_on(on_minute: int, photoperiod_h: float) -> Mask:
    """Return when the lamp is on, shape (1440,)."""
    on: Mask = (np.arange(DAY_MIN) - on_minute) % DAY_MIN < round(photoperiod_h * 60)
    return on


@dataclass(frozen=True)
class Night:
    """The dark left in a day: the longest run of it, and all of it, in h."""

    longest_h: float
    dark_h: float


def night_of(light: Mask) -> Night:
    """Return the dark of a day, round the clock.

    >>> night_of(lamp_on(22 * 60, 12))
    Night(longest_h=12.0, dark_h=12.0)
    """
    if not light.any():
        return Night(24.0, 24.0)
    start = int(np.flatnonzero(light)[0])
    dark = ~np.roll(light, -start)
    edges = np.diff(np.concatenate([[0], dark.astype(int), [0]]))
    lengths = np.flatnonzero(edges == -1) - np.flatnonzero(edges == 1)
    hours = 24 / len(light)
    return Night(float(lengths.max(initial=0)) * hours, float(lengths.sum()) * hours)


def dark_stretches(light: Mask) -> int:
    """Return in how many stretches a day is dark, round the clock.

    >>> dark_stretches(lamp_on(360, 3) | lamp_on(1080, 3))
    2
    """
    return int(np.count_nonzero(light & ~np.roll(light, -1))) if light.any() else 1


def night_needed_h(target: StageTarget) -> float:
    """Return the dark a stage needs at a stretch: what it says, or what its short days leave."""
    short = target.response == "short-day"
    return max(target.night_h, 24 - target.longest_day_h if short else 0.0)


def night_conflict(target: StageTarget, lamp: Mask, daylight: Mask) -> Said | None:
    """Return what is wrong with the night and what would mend it; None when nothing is.

    Parameters
    ----------
    target : StageTarget
    lamp : array of bool, shape (1440,)
        When the lamp is on.
    daylight : array of bool, shape (steps,)
        When there is any daylight in a day cut into equal steps.
    """
    by_minute = np.repeat(daylight, DAY_MIN // len(daylight))
    night = night_of(lamp | by_minute)
    needed = night_needed_h(target)
    if night.longest_h >= needed - 1e-9:
        return None
    figures = {"night_h": night.longest_h, "needed_h": needed}
    if target.unbroken_night and night.dark_h >= needed:
        return said("night.broken", **figures)
    sun_h = night_of(by_minute).longest_h
    too_long = night_of(lamp).longest_h < needed - 1e-9
    if sun_h < needed - 1e-9:
        if too_long:
            return said("night.short_both", sun_h=sun_h, day_h=24 - needed, **figures)
        return said("night.short_sun", sun_h=sun_h, **figures)
    if too_long:
        code = "night.short_lamp_sun" if by_minute.any() else "night.short_lamp"
        return said(code, day_h=24 - needed, **figures)
    return said("night.short_apart", **figures)
