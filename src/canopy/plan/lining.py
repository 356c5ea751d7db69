"""What other walls would gain: the same lamps at the same setting in a tent lined otherwise."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import even_grid
from canopy.plan.bench import Bench
from canopy.plan.problem import StageProblem
from canopy.plan.solver import Index
from canopy.plan.stacks import hung_ppfd

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Gain:
    """What a lining changes, as shares of what there is now, and what could be saved for it.

    Parameters
    ----------
    middle, edge, mean : float
        By how much the light in the middle, along the edge and over all of the floor changes.
    dial_pct, watts : float or None
        The lowest dial position with at least the light there is now, and what it draws; ``None``
        where the lamps have no lower one that will do.
    hours : float or None
        The fewest hours, of those a plan may choose, that give at least the day's light there is
        now; ``None`` where none are fewer.
    kwh_saved : float
        A day, by the better of the two.
    """

    middle: float
    edge: float
    mean: float
    dial_pct: float | None
    watts: float | None
    hours: float | None
    kwh_saved: float


def lining_gain(problem: StageProblem, ready: Bench, index: Index, box: Enclosure) -> Gain:
    """Return what another box, of the same sides, gains at a setting.

    Parameters
    ----------
    problem, ready : StageProblem, Bench
        The stage in its present box.
    index : tuple of int
        The setting.
    box : Enclosure
    """
    space, (h, d, t) = ready.space, index
    # both as the stage ends: a lamp that then is no longer so high is looked at lower
    h = min(h, int(np.count_nonzero(space.heights_cm <= problem.highest_cm + SAME)) - 1)
    height = float(space.heights_cm[h])
    following, steady = hung_ppfd(problem, box, height)
    # lamps on a timer of their own gain alike; they are left out of both
    now, then = ready.timed_ppfd((h, d, t)), following * float(space.light[d]) + steady
    grid = even_grid(box.width_cm, box.depth_cm)
    weights = grid.area_weights()
    standing = ready.standing
    share = weights[standing] / weights[standing].sum()
    means = (following[standing] @ share) * space.light + steady[standing] @ share
    enough = np.flatnonzero(means >= float(space.timed_mean[h, d]) * (1 - SAME))
    dial = int(enough[0]) if len(enough) and enough[0] < d else None
    lamp = space.lamp_dli(float(means[d]), space.hours)
    wanted = float(space.lamp_dli(float(space.timed_mean[h, d]), float(space.hours[t])))
    may = np.ones(len(space.hours), bool) if space.hours_choices is None else space.hours_choices
    fewer = np.flatnonzero((lamp >= wanted * (1 - SAME)) & may)
    hours = int(fewer[0]) if len(fewer) and fewer[0] < t else None
    kwh = space.kwh()[0]
    least = min(
        kwh[d, t], kwh[dial if dial is not None else d, t], kwh[d, t if hours is None else hours]
    )
    middle, edge = _places(ready.points_cm, box)
    return Gain(
        middle=float(then[middle].mean() / now[middle].mean() - 1),
        edge=float(then[edge].mean() / now[edge].mean() - 1),
        mean=float((then @ weights) / (now @ weights) - 1),
        dial_pct=None if dial is None else float(space.dials_pct[dial]),
        watts=None if dial is None else float(space.watts[dial]),
        hours=None if hours is None else float(space.hours[hours]),
        kwh_saved=float(kwh[d, t] - least),
    )


SAME = 1e-6


def _places(points_cm: Array, box: Enclosure) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Return which points are the nearest to the middle, and which are nearest to a wall."""
    x, y = points_cm[:, 0], points_cm[:, 1]
    away = np.hypot(x - box.width_cm / 2, y - box.depth_cm / 2)
    wall = np.minimum.reduce([x, box.width_cm - x, y, box.depth_cm - y])
    return away <= away.min() + SAME, wall <= wall.min() + SAME
