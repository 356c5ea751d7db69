"""When in the day a lamp is on, so that lamp and daylight make one day. Minutes after midnight.

Without daylight a lamp has one on-window. With it the lamp gives what daylight leaves open: fewer
hours, in one window, or in one before and one after the daylight where the crop's day would be too
short with one, or more than a tenth of the cost is saved.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from canopy.crop.night import (
    DAY_MIN,
    Night,
    dark_stretches,
    lamp_on,
    night_needed_h,
    night_of,
)
from canopy.crop.photoperiod import off_minute
from canopy.crop.targets import StageTarget

Mask = NDArray[np.bool_]

WORTH_TWO = 0.9
"""Two windows are worth their trouble when they cost less than this share of one. Our judgement."""

SLACK_H = 1e-9


@dataclass(frozen=True)
class Window:
    """The lamp is on from a minute, for so many hours."""

    on_minute: int
    hours: float

    def lit(self) -> Mask:
        """Return when it is on, shape (1440,)."""
        return lamp_on(self.on_minute, self.hours)


def lit_by(windows: tuple[Window, ...]) -> Mask:
    """Return when a lamp is on, shape (1440,)."""
    lit = np.zeros(DAY_MIN, dtype=bool)
    for window in windows:
        lit |= window.lit()
    return lit


@dataclass(frozen=True)
class LampDay:
    """What the lamp's hours are fitted into.

    Parameters
    ----------
    on_minute : int
        Where the grower's clock stands: when the first window begins, if it can.
    step_min : int
        Of the timer.
    sun : tuple of int, optional
        From and until when there is any daylight.
    least_h, longest_h : float
        Of the crop's day, lamp and daylight together.
    night_h : float
        Dark it needs at a stretch.
    one_night : bool
        Whether there may be one dark stretch only.
    one_window : bool
        Whether the lamp comes on once only; so for short-day crops, whatever else it would save.
    price : tuple of float, optional
        Of every minute of the day; one price for all when left out.
    """

    on_minute: int = 0
    step_min: int = 15
    sun: tuple[int, int] | None = None
    least_h: float = 0.0
    longest_h: float = 24.0
    night_h: float = 0.0
    one_night: bool = False
    one_window: bool = True
    price: tuple[float, ...] | None = None

    def windows(self, photoperiod_h: float) -> tuple[Window, ...]:
        """Return when the lamp is on for so many hours in all."""
        return _windows(self, round(photoperiod_h * 60))

    def sunlit(self) -> Mask:
        """Return when there is daylight, shape (1440,)."""
        lit = np.zeros(DAY_MIN, dtype=bool)
        if self.sun is not None:
            lit[self.sun[0] : self.sun[1]] = True
        return lit

    def night(self, windows: tuple[Window, ...]) -> Night:
        """Return the dark that lamp and daylight leave."""
        return night_of(lit_by(windows) | self.sunlit())

    def day_h(self, photoperiod_h: float) -> float:
        """Return how long the crop's day is: what its longest dark stretch leaves of 24 h."""
        return 24 - self.night(self.windows(photoperiod_h)).longest_h

    def fits(self, photoperiod_h: float) -> bool:
        """Return whether the crop's day and night are what it asks."""
        return self.holds(self.windows(photoperiod_h))

    def holds(self, windows: tuple[Window, ...]) -> bool:
        """Return whether the crop's day and night are what it asks with the lamp on like this."""
        lit = lit_by(windows) | self.sunlit()
        night = night_of(lit)
        if night.longest_h < self.night_h - SLACK_H:
            return False
        if self.one_night and dark_stretches(lit) > 1:
            return False
        # a short-day crop takes no harm from a shorter day
        enough = self.one_window and self.sun is not None
        return enough or 24 - night.longest_h >= self.least_h - SLACK_H


def lamp_day(
    target: StageTarget,
    on_minute: int,
    step_min: int,
    sun: tuple[int, int] | None,
    price: tuple[float, ...] | None = None,
) -> LampDay:
    """Return what a stage's hours are fitted into; parameters as in :class:`LampDay`."""
    short = target.response == "short-day"
    return LampDay(
        on_minute=on_minute,
        step_min=step_min,
        sun=sun,
        least_h=target.hours_low,
        longest_h=target.longest_day_h,
        night_h=night_needed_h(target),
        one_night=short or target.unbroken_night,
        one_window=short,
        price=None if sun is None else price,
    )


def sun_span(daylight: Mask) -> tuple[int, int] | None:
    """Return from and until when there is any daylight in a day cut into equal steps.

    >>> sun_span(np.array([False, True, True, False]))
    (360, 1080)
    """
    by_minute = np.flatnonzero(np.repeat(daylight, DAY_MIN // len(daylight)))
    return (int(by_minute[0]), int(by_minute[-1]) + 1) if len(by_minute) else None


@lru_cache(maxsize=4096)
def _windows(day: LampDay, minutes: int) -> tuple[Window, ...]:
    one = (Window(day.on_minute, minutes / 60),)
    if day.sun is None or day.one_window:
        return one
    two = _around(day, minutes)
    if two is None or not day.holds(two):
        return one
    if day.holds(one) and _cost(day, two) >= WORTH_TWO * _cost(day, one):
        return one
    return two


def _around(day: LampDay, minutes: int) -> tuple[Window, ...] | None:
    """Return one window before the daylight and one after it; None where one does for both."""
    assert day.sun is not None
    step = day.step_min
    rises = -(-day.sun[0] // step) * step
    sets = day.sun[1] // step * step
    longest = int(day.longest_h * 60) // step * step
    # the lamp's part of a day no longer than the crop's, the rest of it beside the daylight
    outside = min(minutes, max(longest - (sets - rises), 0) // step * step)
    wanted = (rises - day.on_minute) % DAY_MIN
    morning = min(wanted // step * step if wanted <= outside else outside, outside)
    evening = outside - morning
    extra = minutes - outside
    if morning == 0 or evening == 0 or extra >= sets - rises:
        return None
    first = Window((rises - morning) % DAY_MIN, (morning + extra) / 60)
    return first, Window(sets % DAY_MIN, evening / 60)


def _cost(day: LampDay, windows: tuple[Window, ...]) -> float:
    if day.price is None:
        return 1.0
    return float(np.array(day.price)[lit_by(windows)].sum())


def clock(minute: int) -> str:
    """Return minutes after midnight as a clock time.

    >>> clock(390)
    '06:30'
    """
    return f"{minute // 60 % 24:02d}:{minute % 60:02d}"


def windows_words(windows: tuple[Window, ...], ahead_min: int = 0) -> str:
    """Return when a lamp is on, by a clock that is ahead of the timer.

    >>> windows_words((Window(360, 3.0), Window(900, 3.25)))
    '06:00 to 09:00 and 15:00 to 18:15'
    """
    return " and ".join(
        f"{clock(w.on_minute + ahead_min)} to {clock(off_minute(w.on_minute, w.hours) + ahead_min)}"
        for w in windows
    )
