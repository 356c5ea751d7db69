"""Readings against the plan, or against a maker's map, spot by spot.

PPFD in umol m-2 s-1; the change of spots and means is :func:`canopy.light.beside.beside`'s.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.constants import NINETY
from canopy.light.beside import beside
from canopy.words import Said, said

Array = NDArray[np.float64]

Against = Literal["plan", "maker"]

SAME_SHARE = 0.01


@dataclass(frozen=True)
class Compared:
    """Readings over what was to be there: shares, ``ratio`` of each spot, None where nothing.

    ``mean_ratio`` is that of the means over the spots both have, with its 90 % range by what the
    sensor's calibration leaves open; ``blind`` is the part of what is missing that the sensor does
    not see, as a share of the light, 0 where all is put right or nothing is known of it.
    """

    against: Against
    there: tuple[float | None, ...]
    ratio: tuple[float | None, ...]
    mean_ratio: float
    low: float
    high: float
    blind: float
    line: Said


def compared(
    against: Against, shown: Array, there: Array, put_right: float, blind: float, sensor_sd: float
) -> Compared | None:
    """Return readings over what was to be there, ``None`` where the two share no spot.

    Parameters
    ----------
    shown : array, shape (n,)
        As the sensor showed it.
    there : array, shape (n,)
        Nan where nothing is said.
    put_right : float
        Factor of all corrections.
    blind : float
        Factor of those that stand for light the sensor does not see, applied or not; 1 without.
    sensor_sd : float
        What is left open of its calibration, as a share.
    """
    found = beside(there, np.where(np.isnan(there), np.nan, shown * put_right), np.isnan(there))
    if found.mean_change is None:
        return None
    mean = 1 + found.mean_change
    wide = float(np.exp(NINETY * sensor_sd))
    unseen = 1 - 1 / blind
    line = said(f"compare.{against}", share=mean)
    if unseen > SAME_SHARE:
        as_shown = mean / put_right
        line = said(f"compare.{against}_blind", share=mean, shown=as_shown, blind=unseen)

    def listed(values: Array) -> tuple[float | None, ...]:
        return tuple(None if np.isnan(v) else float(v) for v in values)

    return Compared(
        against=against,
        there=listed(there),
        ratio=listed(1 + found.change),
        mean_ratio=mean,
        low=mean / wide,
        high=mean * wide,
        blind=unseen,
        line=line,
    )
