"""Steps and upturned pots that lift plants nearer to the lamp. Lengths in cm."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Stand:
    """A level rectangle that lifts what stands on it above the canopy plane.

    ``x_cm``, ``y_cm`` are its front left corner. It lifts points; that it is solid and stands in
    the light's way is in :mod:`canopy.light.obstacles`.
    """

    x_cm: float
    y_cm: float
    width_cm: float
    depth_cm: float
    raise_cm: float

    def covers(self, points_cm: Array) -> NDArray[np.bool_]:
        """Return which points, shape (n, 2 or 3), stand on it; its border counts."""
        x, y = points_cm[:, 0] - self.x_cm, points_cm[:, 1] - self.y_cm
        on: NDArray[np.bool_] = (x >= 0) & (x <= self.width_cm) & (y >= 0) & (y <= self.depth_cm)
        return on

    def inside(self, x_cm: float, y_cm: float) -> bool:
        """Return whether a place lies over it, its border left out."""
        x, y = x_cm - self.x_cm, y_cm - self.y_cm
        return 0 < x < self.width_cm and 0 < y < self.depth_cm


def raised(points_cm: Array, stands: tuple[Stand, ...]) -> Array:
    """Return points of the canopy plane lifted by the highest stand under each, shape (n, 3)."""
    lifted = np.array(points_cm, dtype=float)
    for stand in stands:
        on = stand.covers(points_cm)
        lifted[on, 2] = np.maximum(lifted[on, 2], stand.raise_cm)
    return lifted


def highest_under(stands: tuple[Stand, ...], corners_cm: Array) -> float:
    """Return the highest step that an outline, seen from above, reaches over; 0 without any.

    Parameters
    ----------
    stands : tuple of Stand
    corners_cm : array, shape (n, 2)
    """
    low, high = corners_cm.min(axis=0), corners_cm.max(axis=0)
    over = [
        stand.raise_cm
        for stand in stands
        if stand.x_cm < high[0]
        and stand.x_cm + stand.width_cm > low[0]
        and stand.y_cm < high[1]
        and stand.y_cm + stand.depth_cm > low[1]
    ]
    return max(over, default=0.0)
