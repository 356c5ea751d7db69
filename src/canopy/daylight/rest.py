"""When the lamp may go off today: what daylight and lamp gave so far, and what is still to come.

Minutes after midnight; DLI in mol m-2 d-1, PPFD in umol m-2 s-1.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.constants import MOL_PER_UMOL
from canopy.daylight.lampday import clock
from canopy.words import Said, said

Array = NDArray[np.float64]
MINUTE_S = 60.0


@dataclass(frozen=True)
class LampUntil:
    """When the lamp may go off, what the day comes to then, and that in words.

    ``off_minute`` is None where the lamp is not needed any more.
    """

    off_minute: int | None
    dli: float
    line: Said


def lamp_until(
    now_min: int,
    window_dli: float,
    lamp_dli: float,
    coming: Array,
    mean_ppfd: float,
    aim_dli: float,
    on_minute: int,
    last_minute: int,
) -> LampUntil:
    """Return until when the lamp has to be on today for its aim.

    Parameters
    ----------
    now_min : int
    window_dli, lamp_dli : float
        What daylight and lamp gave so far.
    coming : array, shape (1440,)
        The daylight minute by minute, what is past of it too.
    mean_ppfd : float
        What the lamp gives.
    aim_dli : float
    on_minute : int
        The lamp is not on before.
    last_minute : int
        Nor after: its hours, the crop's longest day and its night.
    """
    rest = np.asarray(coming, dtype=float)[now_min:] * MINUTE_S * MOL_PER_UMOL
    so_far, ahead = window_dli + lamp_dli, float(rest.sum())
    figures = {"window": window_dli, "lamp": lamp_dli, "aim": aim_dli}
    if so_far + ahead >= aim_dli:
        return LampUntil(None, so_far + ahead, said("rest.off", dli=so_far + ahead, **figures))
    starts = max(now_min, on_minute)
    per_min = mean_ppfd * MINUTE_S * MOL_PER_UMOL
    wanted = (aim_dli - so_far - ahead) / per_min if per_min > 0 else float("inf")
    if starts + wanted <= last_minute:
        off = int(np.ceil(starts + wanted))
        return LampUntil(off, aim_dli, said("rest.until", time=clock(off), **figures))
    dli = so_far + ahead + max(last_minute - starts, 0) * per_min
    if starts >= last_minute:
        return LampUntil(None, dli, said("rest.over", dli=dli, **figures))
    return LampUntil(
        last_minute, dli, said("rest.short", time=clock(last_minute), dli=dli, **figures)
    )
