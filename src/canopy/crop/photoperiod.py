"""Hours a timer can keep. Clock times in minutes after midnight."""

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError

Array = NDArray[np.float64]

TIMER_STEPS_MIN = (1, 15, 30, 60)
DAY_MIN = 1440


def timer_hours(hours_low: float, hours_high: float, step_min: int) -> Array:
    """Return the photoperiods in h from low to high that a timer can keep, ascending.

    Raises
    ------
    CanopyError
        When the step is not one of 1, 15, 30, 60 or no timer step lies between.
    """
    if step_min not in TIMER_STEPS_MIN:
        raise CanopyError("A timer steps in 1, 15, 30 or 60 minutes; choose one.", "timer_step_min")
    # no light at all is no photoperiod
    first = max(int(np.ceil(hours_low * 60 / step_min - 1e-9)), 1)
    last = int(np.floor(hours_high * 60 / step_min + 1e-9))
    if last < first:
        raise CanopyError(
            f"No {step_min} min timer step lies from {hours_low:g} to {hours_high:g} h; "
            "widen the hours or use a finer timer.",
            "hours_low",
        )
    result: Array = np.arange(first, last + 1) * step_min / 60
    return result


def off_minute(on_minute: int, photoperiod_h: float) -> int:
    """Return when the lamp goes off, minutes after midnight; past midnight it wraps.

    >>> off_minute(1080, 12)
    360
    """
    return int(on_minute + round(photoperiod_h * 60)) % DAY_MIN
