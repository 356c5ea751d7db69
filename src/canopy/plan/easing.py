"""Easing plants from one stage into the next: rises of the day's light spread over days.

Falls need no easing. DLI in mol m-2 d-1.
"""

from dataclasses import dataclass
from math import ceil, log

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.plan.levers import LeverSpace

Array = NDArray[np.float64]

RISE_A_DAY = 0.15
"""How much more light than the day before plants take without harm. Common practice, no source."""


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

    ``abrupt`` when the lamp cannot go low enough for the first of them.
    """

    steps: tuple[EasingStep, ...]
    abrupt: bool

    @property
    def days(self) -> int:
        """How many days it takes."""
        return len(self.steps)


NO_EASING = Easing((), False)


def eased_dli(before: float, after: float, rise: float = RISE_A_DAY) -> Array:
    """Return the days' light sums on the way, the last one ``after``.

    Equal ratios, none above 1 + rise; a fall is one step.

    >>> [round(float(d), 2) for d in eased_dli(6, 7.9)]
    [6.88, 7.9]
    >>> [float(d) for d in eased_dli(15, 8)]
    [8.0]
    """
    if rise <= 0:
        raise CanopyError("The rise a day has to be above 0 %.", "rise_pct")
    if after <= before * (1 + rise) or before <= 0:
        return np.array([after])
    count = ceil(log(after / before) / log(1 + rise) - 1e-9)
    result: Array = before * (after / before) ** (np.arange(1, count + 1) / count)
    result[-1] = after
    return result


def easing(
    space: LeverSpace, index: tuple[int, int, int], before: float, rise: float = RISE_A_DAY
) -> Easing:
    """Return the steps from the last stage's light to this setting.

    Each day takes the brightest dial position that does not pass the day's light sum at the
    setting's height; where the dial cannot go so low, the nearest height above that does.

    Parameters
    ----------
    space : LeverSpace
    index : tuple of int
        The stage's own setting.
    before : float
        DLI at the end of the stage before; 0 when there was none.
    rise : float
    """
    h, d, t = index
    table = space.dli()[:, : d + 1, t]
    goal = float(table[h, d])
    wanted = eased_dli(before, goal, rise)[:-1]
    steps, abrupt = [], False
    for day, most in enumerate(wanted):
        at, dial = h, int(np.searchsorted(table[h], most * (1 + 1e-9), side="right")) - 1
        if dial < 0:
            above = np.flatnonzero(table[h:, 0] <= most * (1 + 1e-9))
            at, dial = (h + int(above[0]), 0) if len(above) else (len(table) - 1, 0)
            abrupt = abrupt or not len(above)
        steps.append(
            EasingStep(day, float(space.heights_cm[at]), float(space.dials_pct[dial]),
                       float(table[at, dial]))
        )  # fmt: skip
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
