"""Where the next reading helps most: the spot and height that narrow what the grower cares about.

By the linearised posterior: how much the variance of a figure falls with one reading more does not
hang on what it will show. Lengths in cm.
"""

from dataclasses import dataclass
from math import sqrt
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.constants import NINETY
from canopy.light.lightmap import even_grid
from canopy.measure.fit import Model, left_out, left_out_over
from canopy.measure.learnt import Known
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


@dataclass(frozen=True)
class _Looked:
    """The grid at a height: ln of its light, what unknowns add that readings leave, and its ties.

    ``moved`` has shape (points, unknowns), ``cross``, shape (points, readings), is what the model
    leaves out in common.
    """

    logs: Array
    moved: Array
    cross: Array


def _looked(known: Known, height_cm: float) -> _Looked:
    found, points = known.found, known.prepared.points_cm
    level = np.full(len(points), height_cm)
    none = np.full(len(points), -1)
    groups = np.where(np.isclose(height_cm, np.unique(found.readings.height_cm)))[0]
    if len(groups):
        none[:] = groups[0]
    base, slopes = Model(known.prepared, level, found.known, none).slopes(found.values)
    slopes[:, [each.name for each in found.known].index("sensor")] = 0.0
    at, heights = found.readings.points_cm(), found.readings.height_cm
    cross = left_out(known.prepared.box, points, level, at, heights)
    moved = slopes - cross @ found.precision @ found.slopes
    return _Looked(base + cross @ found.solved, moved, cross)


def next_readings(
    known: Known, height_cm: float, standing: NDArray[np.bool_] | None = None
) -> dict[Wanted, NextReading]:
    """Return the reading that narrows each figure at a height most.

    Parameters
    ----------
    known : Known
        The fit so far, over the plan's grid.
    height_cm : float
        Where the lamp is to hang.
    standing : array of bool, shape (points,), optional
        Where plants stand.
    """
    prepared = known.prepared
    box = prepared.box
    most = top_cm(box, prepared.lamps)
    heights = [height_cm]
    if height_cm + HIGHER_CM <= most:
        heights.append(height_cm + HIGHER_CM)
    elif height_cm - HIGHER_CM >= known.heights_cm[0]:
        heights.append(height_cm - HIGHER_CM)
    looked = [_looked(known, height) for height in heights]
    light = np.exp(looked[0].logs - looked[0].logs.max())
    if standing is not None and standing.any():
        light = np.where(standing, light, 0.0)
    area = np.ravel(even_grid(box.width_cm, box.depth_cm).area_weights())
    brightest = (light == light.max()).astype(float)
    # what the model leaves out, between all points
    here = looked[0].cross
    own = left_out_over(prepared, box, prepared.points_cm, height_cm)
    own = own - here @ known.found.precision @ here.T
    return {
        "mean": _narrowed(known, heights, looked, own, light * area),
        "brightest": _narrowed(known, heights, looked, own, brightest),
    }


def _narrowed(
    known: Known, heights: list[float], looked: list[_Looked], own: Array, weights: Array
) -> NextReading:
    """Return the reading that narrows a weighted mean of ln of the light most."""
    found, prepared = known.found, known.prepared
    box, points = prepared.box, prepared.points_cm
    spots = _spots(points, box.width_cm, box.depth_cm)
    sensor = [each.name for each in found.known].index("sensor")
    weights = weights / weights.sum()
    here, level = looked[0], np.full(len(points), heights[0])
    target = weights @ here.moved
    variance = float(target @ found.covariance @ target + weights @ own @ weights)
    best: tuple[float, int, float] | None = None
    for height, there in zip(heights, looked):
        moved, cross = there.moved[spots].copy(), there.cross[spots]
        moved[:, sensor] += 1.0
        levels = np.full(len(spots), height)
        between = left_out(box, points, level, points[spots], levels)
        between = weights @ (between - here.cross @ found.precision @ cross.T)
        joint = target @ found.covariance @ moved.T + between
        alone = left_out(box, points[spots], levels, points[spots], levels)
        alone = alone - cross @ found.precision @ cross.T
        spread = np.einsum("ij,jk,ik->i", moved, found.covariance, moved) + np.diag(alone)
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
    places = np.array([(a, b) for b in y for a in x])
    return np.unique(((points_cm[:, None, :2] - places) ** 2).sum(axis=2).argmin(axis=0))
