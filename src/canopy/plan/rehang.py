"""When a lamp has to go up because the plants came closer."""

from dataclasses import dataclass

import numpy as np

from canopy.plan.levers import LeverSpace


@dataclass(frozen=True)
class Rehang:
    """What happens when a lamp hung at the stage's start is left where it is.

    Parameters
    ----------
    growth_cm : float
        How much the plants rise over the stage.
    left_cm : float
        What is left between tops and lamp at the end; below the lamp's clearance it is too
        close whatever the light.
    first_day : float or None
        Day of the stage on which the brightest spot passes the cap or the clearance is used
        up; ``None`` when neither happens within the stage.
    peak_umol_m2_s : float or None
        Brightest spot at the end; ``None`` when the lamp would be closer than its clearance.
    """

    growth_cm: float
    left_cm: float
    first_day: float | None
    peak_umol_m2_s: float | None


def rehang(
    space: LeverSpace, index: tuple[int, int, int], growth_cm: float, days: int, cap: float
) -> Rehang:
    """Return what becomes of a setting while the plants grow evenly through the stage.

    The day is exact to the whole centimetres the heights come in.
    """
    h, d, _ = index
    height = float(space.heights_cm[h])
    left = height - growth_cm
    peaks = space.peak[:, d]
    allowed = height - float(space.heights_cm[space.lowest_safe(cap, d, h)])
    first_day = None
    if growth_cm > 0 and growth_cm > allowed:
        first_day = float(days * allowed / growth_cm)
    inside = left >= space.heights_cm[0] - 1e-9
    peak = float(np.interp(left, space.heights_cm, peaks)) if inside else None
    return Rehang(growth_cm, left, first_day, peak)
