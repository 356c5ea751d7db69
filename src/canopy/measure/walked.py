"""What readings say by themselves, without any model, and what they are enough for.

PPFD in umol m-2 s-1, lengths in cm.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import KDTree

from canopy.crop.photoperiod import timer_hours
from canopy.crop.targets import StageTarget
from canopy.light.lightmap import (
    MapStatistics,
    beyond_bound,
    canopy_flux_umol_s,
    capture,
    capture_bound,
    map_statistics,
    share_inside,
)
from canopy.quantities import DLI_PER_UMOL_HOUR
from canopy.words import Said

Array = NDArray[np.float64]

RASTER = 90
"""Points along each side by which it is counted which floor lies nearest to which spot."""


def nearest_shares(places_cm: Array, width_cm: float, depth_cm: float) -> Array:
    """Return the share of the floor that lies nearest to each place, shape (n,).

    Of a grid from edge to edge a corner has a quarter of a cell and an edge half a one.

    Parameters
    ----------
    places_cm : array, shape (n, 2)
        Those at one place share its floor.
    """
    x = (np.arange(RASTER) + 0.5) * width_cm / RASTER
    y = (np.arange(RASTER) + 0.5) * depth_cm / RASTER
    floor = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    spots, which, alike = np.unique(places_cm, axis=0, return_inverse=True, return_counts=True)
    nearest = KDTree(spots).query(floor)[1]
    shares = np.bincount(nearest, minlength=len(spots)) / len(floor)
    result: Array = (shares / alike)[np.ravel(which)]
    return result


@dataclass(frozen=True)
class Walked:
    """Readings taken with the lamp at one height.

    ``canopy_umol_s`` is the light on the floor, ``efficacy`` that over watts, ``captured`` over the
    lamps' own light; above ``bound``, which light sent back and forth can reach, something is
    wrong, and said.
    """

    height_cm: float
    count: int
    statistics: MapStatistics
    canopy_umol_s: float
    efficacy: float | None
    captured: float | None
    bound: float
    wrong: Said | None
    ppfd: Array
    shares: Array

    def inside(self, low: float, high: float) -> float:
        """Return the share of the floor that lies nearest to readings between two PPFD."""
        return share_inside(self.ppfd, self.shares, low, high)


def walked(
    rows: Sequence[tuple[float, float, float, float]],
    width_cm: float,
    depth_cm: float,
    lamp_umol_s: float,
    watts: float | None,
    canopy_reflectance: float,
) -> Walked:
    """Return what readings say at the height most were taken at.

    Parameters
    ----------
    rows : sequence of (x_cm, y_cm, height_cm, ppfd)
        At least one, all with the dial where it is.
    lamp_umol_s : float
        Of the lamps at that dial.
    watts : float, optional
        What they draw there.
    """
    table = np.asarray(rows, dtype=float)
    heights, counts = np.unique(table[:, 2], return_counts=True)
    height = float(heights[counts.argmax()])
    here = table[table[:, 2] == height]
    shares = nearest_shares(here[:, :2], width_cm, depth_cm)
    statistics = map_statistics(here[:, 3], shares)
    on_canopy = canopy_flux_umol_s(statistics.area_mean, width_cm, depth_cm)
    captured = capture(on_canopy, lamp_umol_s)
    return Walked(
        height_cm=height,
        count=len(here),
        statistics=statistics,
        canopy_umol_s=on_canopy,
        efficacy=on_canopy / watts if watts else None,
        captured=captured,
        bound=capture_bound(canopy_reflectance),
        wrong=beyond_bound(captured, canopy_reflectance),
        ppfd=here[:, 3],
        shares=shares,
    )


@dataclass(frozen=True)
class Enough:
    """What a mean is enough for at a stage: for how long it has to be on, and what that gives.

    ``short``: not even the longest day reaches the band; ``much``: the shortest passes it.
    ``ppfd_low`` and ``ppfd_high`` are the band as PPFD at those hours.
    """

    verdict: Literal["enough", "short", "much"]
    hours: float
    dli: float
    ppfd_low: float
    ppfd_high: float


def enough_for(mean: float, target: StageTarget, timer_step_min: int, other_dli: float) -> Enough:
    """Return whether a mean is enough for a stage with the hours it allows.

    Parameters
    ----------
    mean : float
    target : StageTarget
    timer_step_min : int
    other_dli : float
        What daylight gives besides.
    """
    hours = timer_hours(target.hours_low, target.longest_day_h, timer_step_min)
    dli = mean * hours * DLI_PER_UMOL_HOUR + other_dli
    reached = np.flatnonzero(dli >= target.dli_low * (1 - 1e-9))
    at = int(reached[0]) if len(reached) else -1
    inside = dli[at] <= target.dli_high * (1 + 1e-9)
    per_umol = float(hours[at]) * DLI_PER_UMOL_HOUR
    return Enough(
        "short" if not len(reached) else "enough" if inside else "much",
        float(hours[at]),
        float(dli[at]),
        max(target.dli_low - other_dli, 0.0) / per_umol,
        max(target.dli_high - other_dli, 0.0) / per_umol,
    )
