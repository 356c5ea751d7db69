"""The brightest spot of a map, found between its points.

Close under a lamp the light peaks between the points of a grid. Round the brightest of them the
direct light is asked for again, finely, and added to what of the map is not direct, which is
smooth. Lengths in cm.
"""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import RegularGridInterpolator
from scipy.ndimage import maximum_filter

Array = NDArray[np.float64]

MOST_CANDIDATES = 8
"""Peaks among the grid's points that are looked round."""

WORTH = 0.75
"""Points dimmer than this share of the brightest are not: between points 7 cm apart a lamp 3 cm
above hides a fifth of its peak."""

ROUNDS = ((1.0, 9), (0.25, 7))
"""How far around, in cells, and by how many points a side."""


def candidates(map_: Array) -> NDArray[np.intp]:
    """Return rows and columns of the brightest peaks of a map (ny, nx), shape (k, 2)."""
    peak = map_ >= maximum_filter(map_, size=3, mode="nearest")
    peak &= map_ >= WORTH * map_.max()
    found = np.argwhere(peak)
    order = np.argsort(-map_[found[:, 0], found[:, 1]], kind="stable")
    result: NDArray[np.intp] = found[order][:MOST_CANDIDATES]
    return result


def brightest(
    x_cm: Array,
    y_cm: Array,
    map_: Array,
    direct: Array,
    direct_at: Callable[[Array], Array],
    counts: Callable[[Array], NDArray[np.bool_]] = lambda spots: np.ones(len(spots), bool),
) -> float:
    """Return the light of the brightest spot of a map, at its points or between them.

    Parameters
    ----------
    x_cm, y_cm : array, shapes (nx,) and (ny,)
        Of the grid's points.
    map_, direct : array, shape (ny, nx)
        The light at them, and what of it comes straight from the lamps; -inf in the map where a
        point does not count.
    direct_at : callable
        The same at other spots, shape (n, 2) to (n,).
    counts : callable
        Which of such spots count.
    """
    best = float(map_.max())
    if not np.isfinite(best) or len(x_cm) < 2 or len(y_cm) < 2:
        return best
    known = np.isfinite(map_)
    rest = np.where(known, map_ - direct, 0.0)
    # beyond what counts the rest goes on as at the nearest point that does
    if not known.all():
        rest = np.where(known, rest, rest[known].mean())
    smooth = RegularGridInterpolator(
        (y_cm, x_cm), rest, bounds_error=False, fill_value=None, method="linear"
    )
    low = np.array([x_cm[0], y_cm[0]])
    high = np.array([x_cm[-1], y_cm[-1]])
    cell = (high - low) / [len(x_cm) - 1, len(y_cm) - 1]
    at = candidates(map_)
    middles = np.column_stack([x_cm[at[:, 1]], y_cm[at[:, 0]]])
    for reach, side in ROUNDS:
        offsets = np.linspace(-reach, reach, side)
        around = np.stack(np.meshgrid(offsets, offsets), axis=-1).reshape(-1, 2) * cell
        spots = np.clip(middles[:, None, :] + around[None], low - cell / 2, high + cell / 2)
        flat = spots.reshape(-1, 2)
        light = direct_at(flat) + smooth(flat[:, ::-1])
        light = np.where(counts(flat), light, -np.inf).reshape(len(middles), -1)
        best = max(best, float(light.max()))
        middles = spots[np.arange(len(middles)), light.argmax(axis=1)]
    return best
