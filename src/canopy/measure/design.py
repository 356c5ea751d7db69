"""Where the next reading helps most: the spot and height that narrow what the grower cares about.

By the linearised posterior: how much the variance of a figure falls with one reading more does not
hang on what it will show. Lengths in cm.
"""

from dataclasses import dataclass
from math import hypot, sqrt
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.light.lightmap import even_grid
from canopy.measure.fit import NINETY, Model, left_out
from canopy.measure.learnt import Corrected
from canopy.measure.prepared import top_cm
from canopy.measure.readings import SPOT_SD

Array = NDArray[np.float64]

Wanted = Literal["mean", "brightest"]

FROM_WALL = 0.09
"""Spots by a wall lie so far from it, as a share of the side; no nearer than NEAREST_CM."""

NEAREST_CM = 7.0
HIGHER_CM = 20.0
"""The lamp is lifted by it, for a reading at a second height."""

WORTH = 0.10
"""One reading more that narrows a range by less than this share is not worth the walk."""


@dataclass(frozen=True)
class NextReading:
    """A reading that would help: where, how high the lamp, and what it makes of the range.

    ``now`` and ``then`` are 90 % ranges to either side, as shares of the figure.
    """

    x_cm: float
    y_cm: float
    height_cm: float
    now: float
    then: float

    @property
    def enough(self) -> bool:
        """Return whether it would hardly narrow the range."""
        return self.then > self.now * (1 - WORTH)


def next_reading(
    known: Corrected, height_cm: float, wanted: Wanted, standing: NDArray[np.bool_] | None = None
) -> NextReading:
    """Return the reading that narrows a figure at a height most.

    Parameters
    ----------
    known : Corrected
        The fit so far, over the plan's grid.
    height_cm : float
        Where the lamp is to hang.
    wanted : {'mean', 'brightest'}
    standing : array of bool, shape (points,), optional
        Where plants stand.
    """
    found, prepared = known.found, known.prepared
    box, points = prepared.box, prepared.points_cm
    spots = _spots(points, box.width_cm, box.depth_cm)
    most = top_cm(box, prepared.lamps)
    heights = [height_cm]
    if height_cm + HIGHER_CM <= most:
        heights.append(height_cm + HIGHER_CM)
    elif height_cm - HIGHER_CM >= known.heights_cm[0]:
        heights.append(height_cm - HIGHER_CM)
    at, read_h = found.readings.points_cm(), found.readings.height_cm
    names = [each.name for each in found.known]

    def looked(height: float) -> tuple[Array, Array, Array]:
        level = np.full(len(points), height)
        none = np.full(len(points), -1)
        groups = np.where(np.isclose(height, np.unique(read_h)))[0]
        if len(groups):
            none[:] = groups[0]
        base, slopes = Model(prepared, level, found.known, none).slopes(found.values)
        slopes[:, names.index("sensor")] = 0.0
        cross = left_out(box, points, level, at, read_h)
        return base + cross @ found.solved, slopes - cross @ found.precision @ found.slopes, cross

    logs, moved, cross = looked(height_cm)
    light = np.exp(logs - logs.max())
    if standing is not None and standing.any():
        light = np.where(standing, light, 0.0)
    if wanted == "brightest":
        weights = (light == light.max()).astype(float)
        weights /= weights.sum()
    else:
        area = np.ravel(even_grid(box.width_cm, box.depth_cm).area_weights())
        weights = light * area
        weights /= weights.sum()
    level = np.full(len(points), height_cm)
    own = left_out(box, points, level, points, level) - cross @ found.precision @ cross.T
    target = weights @ moved
    variance = float(target @ found.covariance @ target + weights @ own @ weights)
    best: tuple[float, int, float] | None = None
    for height in heights:
        _, moved_c, cross_c = looked(height)
        moved_c = moved_c[spots]
        moved_c[:, names.index("sensor")] += 1.0
        levels = np.full(len(spots), height)
        between = left_out(box, points, level, points[spots], levels)
        between = weights @ (between - cross @ found.precision @ cross_c[spots].T)
        joint = target @ found.covariance @ moved_c.T + between
        alone = left_out(box, points[spots], levels, points[spots], levels)
        alone = alone - cross_c[spots] @ found.precision @ cross_c[spots].T
        spread = np.einsum("ij,jk,ik->i", moved_c, found.covariance, moved_c) + np.diag(alone)
        left = variance - joint**2 / (spread + SPOT_SD**2)
        k = int(left.argmin())
        if best is None or left[k] < best[0] - 1e-9:
            best = float(left[k]), int(spots[k]), height
    assert best is not None
    x, y = points[best[1], :2]
    return NextReading(
        x_cm=float(x),
        y_cm=float(y),
        height_cm=best[2],
        now=NINETY * sqrt(max(variance, 0.0)),
        then=NINETY * sqrt(max(best[0], 0.0)),
    )


def _spots(points_cm: Array, width_cm: float, depth_cm: float) -> NDArray[np.int64]:
    """Return which points are nearest to nine places, three by three."""
    near = [max(FROM_WALL * side, NEAREST_CM) for side in (width_cm, depth_cm)]
    x = (near[0], width_cm / 2, width_cm - near[0])
    y = (near[1], depth_cm / 2, depth_cm - near[1])
    places = [(a, b) for b in y for a in x]
    away = [[hypot(px - a, py - b) for px, py, _ in points_cm] for a, b in places]
    return np.unique(np.argmin(away, axis=1))
