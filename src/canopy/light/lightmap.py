"""The light map: PPFD over the canopy and what growers read from it."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.constants import CM2_PER_M2
from canopy.words import Said, said

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Grid:
    """Points over the canopy: ``cells`` at the middles of equal cells, ``edges`` edge to edge."""

    nx: int
    ny: int
    points: Literal["cells", "edges"] = "cells"

    def _axis(self, length_cm: float, count: int) -> Array:
        if self.points == "edges":
            return np.linspace(0.0, length_cm, count)
        return (np.arange(count) + 0.5) * length_cm / count

    def axes_cm(self, width_cm: float, depth_cm: float) -> tuple[Array, Array]:
        """Return x and y places, shapes (nx,) and (ny,)."""
        return self._axis(width_cm, self.nx), self._axis(depth_cm, self.ny)

    def points_cm(self, width_cm: float, depth_cm: float) -> Array:
        """Return all points on the canopy plane, y slowest, shape (ny * nx, 3)."""
        x, y = np.meshgrid(*self.axes_cm(width_cm, depth_cm))
        return np.stack([x.ravel(), y.ravel(), np.zeros(x.size)], axis=1)

    def area_weights(self) -> Array:
        """Return the share of the area each point stands for, shape (ny * nx,), sum 1.

        Edge to edge, an edge point stands for half a cell and a corner for a quarter.
        """
        if self.points == "cells":
            return np.full(self.nx * self.ny, 1 / (self.nx * self.ny))
        parts = []
        for count in (self.ny, self.nx):
            part = np.ones(count)
            part[[0, -1]] = 0.5
            parts.append(part / part.sum())
        return np.outer(parts[0], parts[1]).ravel()


CLOSURE = 0.01
"""By so much of itself a sum over a grid may pass the light there is."""


def even_grid(width_cm: float, depth_cm: float, cell_cm: float = 7.0) -> Grid:
    """Return a grid of cells near ``cell_cm``, odd both ways so that the middle is a point.

    A narrow space gets smaller cells, at least nine across.
    """
    cell_cm = min(cell_cm, width_cm / 9, depth_cm / 9)

    def odd(length_cm: float) -> int:
        return int(np.clip(2 * (length_cm / cell_cm // 2) + 1, 5, 51))

    return Grid(odd(width_cm), odd(depth_cm))


EDGE_SHARE = 0.6
"""Of the distance between readings: cell centres stop short of the edge by half of it."""

EDGE_CM = 5.0


def short_of_edge_cm(at_cm: Array, side_cm: float) -> float:
    """Return by how much readings along a side stop short of its ends, 0 when they do not.

    Readings at cell centres, or from edge to edge, do not. One place alone always does.

    >>> short_of_edge_cm(np.array([10.0, 30.0, 50.0]), 60.0)
    0.0
    >>> short_of_edge_cm(np.array([20.0, 30.0, 40.0]), 60.0)
    20.0
    """
    places = np.unique(at_cm)
    gap = float(max(places[0], side_cm - places[-1]))
    spacing = float(np.diff(places).max()) if len(places) > 1 else 0.0
    return gap if gap > max(EDGE_SHARE * spacing, EDGE_CM) else 0.0


def christiansen(values: Array) -> float | None:
    """Return Christiansen's coefficient of uniformity, 1 - mean |x - mean| / mean.

    Source: J. E. Christiansen, *Irrigation by Sprinkling*, Univ. of California Bull. 670 (1942).
    ``None`` in the dark.
    """
    mean = float(values.mean())
    return None if mean == 0 else 1 - float(np.abs(values - mean).mean()) / mean


def _ratio(part: float, whole: float) -> float | None:
    return part / whole if whole else None


@dataclass(frozen=True)
class MapStatistics:
    """What a map says, PPFD in umol m-2 s-1; a ratio is ``None`` where it would be 0/0.

    ``mean`` is the plain mean of the points, ``area_mean`` weighs each by the area it stands
    for. The uniformities of different schools: ``min_over_max``, ``min_over_mean``, and
    ``max_over_mean`` beside ``min_over_mean`` as lowest and highest spot against the mean.
    """

    mean: float
    area_mean: float
    minimum: float
    maximum: float
    min_over_max: float | None
    min_over_mean: float | None
    max_over_mean: float | None
    variation: float | None
    christiansen: float | None


def map_statistics(ppfd: Array, weights: Array | None = None) -> MapStatistics:
    """Return the statistics of readings.

    Parameters
    ----------
    ppfd : array, any shape, at least one reading
    weights : array of the same size, optional
        Share of area each reading stands for; equal when left out.
    """
    values = np.ravel(ppfd)
    mean = float(values.mean())
    low, high = float(values.min()), float(values.max())
    area_mean = mean if weights is None else float(np.average(values, weights=np.ravel(weights)))
    return MapStatistics(
        mean=mean,
        area_mean=area_mean,
        minimum=low,
        maximum=high,
        min_over_max=_ratio(low, high),
        min_over_mean=_ratio(low, mean),
        max_over_mean=_ratio(high, mean),
        variation=_ratio(float(values.std()), mean),
        christiansen=christiansen(values),
    )


def share_inside(ppfd: Array, weights: Array, low: float, high: float) -> float:
    """Return the share of the area whose PPFD lies from ``low`` to ``high``."""
    inside = (np.ravel(ppfd) >= low) & (np.ravel(ppfd) <= high)
    return float(np.ravel(weights)[inside].sum())


def canopy_flux_umol_s(area_mean: float, width_cm: float, depth_cm: float) -> float:
    """Return the light on the canopy: area-weighted mean x area."""
    return area_mean * width_cm * depth_cm / CM2_PER_M2


def capture(canopy_umol_s: float, lamp_umol_s: float) -> float | None:
    """Return light on the canopy over light from the lamps.

    Light the canopy sends back comes down again and is counted again, so the bound is
    :func:`capture_bound` and not 1. ``None`` when the lamps are dark.
    """
    return _ratio(canopy_umol_s, lamp_umol_s)


def beyond_bound(captured: float | None, canopy_reflectance: float) -> Said | None:
    """Return what is said of a map whose light on the canopy passes what there can be."""
    bound = capture_bound(canopy_reflectance)
    if captured is None or captured <= bound * (1 + CLOSURE):
        return None
    return said("light.beyond_bound", share=captured, bound=bound)


def capture_bound(canopy_reflectance: float) -> float:
    """Return the most ``capture`` can be; above it an area, a PPF or a reading is wrong."""
    return 1 / (1 - canopy_reflectance)
