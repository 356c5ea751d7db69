"""Easing plants from one stage into the next: rises of the day's light spread over days.

Falls need no easing. DLI in mol m-2 d-1.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.plan.levers import LeverSpace

Array = NDArray[np.float64]

RISE_A_DAY = 0.15
"""How much more light than the day before plants take without harm. Common practice, no source."""


MOST_DAYS = 60


@dataclass(frozen=True)
class EasingStep:
    """One day's setting on the way: day of the stage from 0, and what it gives."""

    day: int
    height_cm: float
    dial_pct: float
    dli: float


@dataclass(frozen=True)
class Easing:
    """The steps before a stage's own setting is reached.

    ``abrupt`` when the lamp cannot go low enough for the first of them, or its dial is too coarse.
    """

    steps: tuple[EasingStep, ...]
    abrupt: bool

    @property
    def days(self) -> int:
        """How many days it takes."""
        return len(self.steps)


NO_EASING = Easing((), False)


def easing(
    space: LeverSpace, index: tuple[int, int, int], before: float, rise: float = RISE_A_DAY
) -> Easing:
    """Return the steps from the last stage's light to this setting.

    Each day takes the brightest dial position at the setting's height that gives no more than
    the day before and the rise; where the dial cannot go so low, the nearest height above that
    can. A dial too coarse for the rise moves by one position.

    Parameters
    ----------
    space : LeverSpace
    index : tuple of int
        The stage's own setting.
    before : float
        DLI at the end of the stage before; 0 when there was none.
    rise : float
        Most a day may have more than the day before, as a share.

    Raises
    ------
    CanopyError
        When the rise is not above 0.
    """
    if rise <= 0:
        raise CanopyError("The rise a day has to be above 0 %.", "rise_pct")
    h, d, t = index
    # of this photoperiod alone: the table of all is large, and every stage of a season asks
    table = space.lamp_dli(space.timed_mean[:, : d + 1], float(space.hours[t]))
    table = table + space.other_dli[:, None]
    goal = float(table[h, d])
    steps: list[EasingStep] = []
    abrupt, now = False, before
    while before > 0 and goal > now * (1 + rise) * (1 + 1e-9) and len(steps) < MOST_DAYS:
        most = now * (1 + rise) * (1 + 1e-9)
        at, dial = h, int(np.searchsorted(table[h], most, side="right")) - 1
        if dial < 0:
            above = np.flatnonzero(table[h:, 0] <= most)
            at, dial = (h + int(above[0]), 0) if len(above) else (len(table) - 1, 0)
            abrupt = abrupt or not len(above)
        if steps and table[at, dial] <= now:
            # too coarse a dial to keep to the rise: the next position, or the height itself
            at, dial = (h, dial + 1) if at == h else (h, 0)
            abrupt = True
        if dial >= d and at == h:
            break
        now = float(table[at, dial])
        steps.append(
            EasingStep(len(steps), float(space.heights_cm[at]), float(space.dials_pct[dial]), now)
        )
    return Easing(tuple(steps), abrupt)


def photoperiod_steps(
    before_h: float, after_h: float, days: int, step_min: int, to_short_days: bool
) -> tuple[float, ...]:
    """Return the hours of each day from one photoperiod to the next, the last one ``after_h``.

    The switch to short days is one step and never spread.

    >>> photoperiod_steps(18, 12, 4, 30, True)
    (12.0,)
    >>> photoperiod_steps(14, 18, 4, 60, False)
    (15.0, 16.0, 17.0, 18.0)
    """
    if to_short_days or days <= 1 or before_h == after_h:
        return (float(after_h),)
    step = step_min / 60
    way = before_h + (after_h - before_h) * np.arange(1, days + 1) / days
    rounded = np.round(way / step) * step
    rounded[-1] = after_h
    return tuple(float(h) for h in rounded)
