"""Readings of several walks in one tent, put to one height and one dial.

Each is held against what was noted of lamp and tent at its spot, height and dial: what the model
gets wrong there it gets wrong on every walk, and drops out of what changed in between.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.measure.diagnosis import dead_shifts
from canopy.measure.fit import DIAL_SD, HEIGHT_SD_CM, Model, left_out, unknowns
from canopy.measure.learnt import Taken, hangs_as_read, prepared_of
from canopy.measure.prepared import WALL_SHAPE
from canopy.measure.readings import MOST_READINGS, PLACE_CM, Readings

Array = NDArray[np.float64]

WALK_SD = 0.01
"""What a walk has in common besides its height: warm-up, mains, the hand. Our judgement."""


@dataclass(frozen=True)
class Reread:
    """Readings in order of their walks, as arrays of shape (n,), covariances (n, n).

    Parameters
    ----------
    walk : array of int
        Which walk each is of.
    misfit : array
        ln of what was read over what was noted.
    still : array
        Covariance of what is off on every walk alike: record, tent, dial, what the model leaves
        out.
    moods : array
        Covariance of what is off on one walk.
    hand : array
        Variance of each by itself.
    lining : array
        What a hundredth less of the walls' reflectance adds to ln of the light.
    parts : tuple of (side, array)
        What a dead third of a lamp towards a side adds.
    """

    walk: NDArray[np.int64]
    misfit: Array
    still: Array
    moods: Array
    hand: Array
    lining: Array
    parts: tuple[tuple[str, Array], ...]


def alike(one: Taken, other: Taken) -> bool:
    """Return whether two walks were in one tent under the same lamps where they hung before."""
    same = one.box == other.box and one.stands == other.stands
    count = len(one.lamps) == len(other.lamps)
    return same and count and all(hangs_as_read(a, b) for a, b in zip(one.lamps, other.lamps))


def reread(walks: Sequence[Taken]) -> Reread:
    """Return readings of walks together.

    Raises
    ------
    CanopyError
        When there are none, too many, or they are of another tent or lamp.
    """
    if not walks:
        raise CanopyError("There is no walk yet; read the light at a few spots.", "walks")
    first = walks[0]
    if not all(alike(first, other) for other in walks[1:]):
        raise CanopyError("These walks are of other tents or lamps than the first.", "walks")
    rows = [row for each in walks for row in each.rows]
    if len(rows) > MOST_READINGS:
        raise CanopyError(f"{MOST_READINGS} readings are the most that are compared.", "walks")
    x, y, z, height, fraction, ppfd = np.asarray(rows, dtype=float).T
    readings = Readings(x, y, z, height, fraction, ppfd)
    spots = tuple(dict.fromkeys((a, b, c, d) for a, b, c, d, _, _ in rows))
    at = {spot: k for k, spot in enumerate(spots)}
    every = prepared_of(first.box, first.lamps, first.stands, spots, first.quality)
    ready = every.some([at[(a, b, c, d)] for a, b, c, d, _, _ in rows])
    full = tuple(replace(lamp, light_fraction=1.0) for lamp in first.lamps)
    known = unknowns(first.box, full, readings, first.quality)
    names = [each.name for each in known]
    noted = {each.name: each.mean for each in known}
    model = Model(ready, height, known, np.full(len(x), -1))
    base, slopes = model.slopes(noted)
    prior = np.array([each.sd**2 for each in known])
    walk = np.repeat(np.arange(len(walks)), [len(each.rows) for each in walks])
    same_walk = walk[:, None] == walk[None, :]
    same_dial = np.isclose(fraction[:, None], fraction[None, :], rtol=1e-3)
    points = readings.points_cm()
    by_height = slopes[:, names.index("height")]
    moods = WALK_SD**2 + np.outer(by_height, by_height) * HEIGHT_SD_CM**2
    spot_sd = np.repeat([each.spot_sd for each in walks], [len(each.rows) for each in walks])
    direct, other = model.parts(noted)
    return Reread(
        walk=walk,
        misfit=np.log(np.maximum(ppfd, 1e-3) / np.maximum(fraction, 1e-6)) - base,
        still=left_out(first.box, points, height, points, height)
        + (slopes * prior) @ slopes.T
        + np.where(same_dial, DIAL_SD**2, 0.0),
        moods=np.where(same_walk, moods, 0.0),
        hand=spot_sd**2 + (PLACE_CM * model.steepness(noted)) ** 2,
        lining=_lining(first, names, slopes),
        parts=tuple(dead_shifts(model, noted, direct, other)),
    )


def _lining(taken: Taken, names: Sequence[str], slopes: Array) -> Array:
    """Return what a hundredth less of the walls' reflectance adds; nothing without walls."""
    closed = [rho for rho in taken.box.wall_reflectance if rho > 0]
    if not closed or "walls" not in names:
        return np.zeros(len(slopes))
    rho = sum(closed) / len(closed)
    depth = WALL_SHAPE / (1 - WALL_SHAPE * rho)
    return np.asarray(-0.01 * depth * slopes[:, names.index("walls")])
