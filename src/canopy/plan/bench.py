"""A stage's lamps in one tent, prepared once and asked many times.

What is prepared is kept, the most recent first and no more than a few, so that a moved lever
costs a look-up. Safe under threads: the kept arrays are read-only.
"""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from canopy.crop.photoperiod import timer_hours
from canopy.errors import CanopyError
from canopy.fixture.ageing import NO_AGEING
from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import HeightStack, height_stack
from canopy.light.lightmap import Grid, even_grid
from canopy.light.measured import FEWEST_READINGS, HEIGHTS_APART_CM, measured_stack
from canopy.light.stands import Stand, raised
from canopy.light.transport import Transport, prepare
from canopy.once import once
from canopy.plan.certainty import Basis, least_sure
from canopy.plan.levers import LeverSpace, lever_space
from canopy.plan.problem import HungLamp, StageProblem
from canopy.plan.solver import Solution, solve, target_masks
from canopy.power.hanging import reachable_heights_cm

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

KEPT = 24
KEPT_LAMPS = 64


@dataclass(frozen=True)
class Bench:
    """A prepared problem: the maps at all heights, all settings, and the best of them.

    ``standing``, shape (points,), says where plants stand, ``masks`` where each target holds.
    ``stack`` holds the lamps that follow the dial, ``steady`` (heights, points) what the others add
    at their own; ``bases`` what the answer at each height rests on.
    """

    grid: Grid
    points_cm: Array
    stack: HeightStack
    steady: Array | None
    space: LeverSpace
    standing: Mask
    masks: dict[str, Mask]
    solution: Solution
    bases: tuple[Basis, ...]

    def ppfd(self, index: tuple[int, int, int]) -> Array:
        """Return the map at a setting, shape (points,)."""
        h, d, _ = index
        ppfd: Array = self.stack.ppfd[h] * self.space.light[d]
        return ppfd if self.steady is None else ppfd + self.steady[h]


@once(KEPT)
def prepared_tent(box: Enclosure, grid: Grid, stands: tuple[Stand, ...] = ()) -> Transport:
    """Return the transport operator of a tent for a grid on its canopy."""
    points = raised(grid.points_cm(box.width_cm, box.depth_cm), stands)
    transport = prepare(box, points)
    transport.operator.flags.writeable = False
    return transport


@dataclass(frozen=True)
class _LampStack:
    ppfd: Array
    bases: tuple[Basis, ...]


def _basis(hung: HungLamp, beyond: NDArray[np.bool_]) -> tuple[Basis, ...]:
    """Return what each height rests on, for a measured lamp."""
    assert hung.measured is not None
    heights = hung.measured.heights_cm()
    thorough = (
        hung.measured_here
        and len(hung.measured.readings) >= FEWEST_READINGS
        and heights[-1] - heights[0] >= HEIGHTS_APART_CM
    )
    sure: Basis = "readings"
    less: Basis = "rebased"
    return tuple(sure if thorough and not b else less for b in beyond)


@once(KEPT_LAMPS)
def _lamp_stack(
    box: Enclosure, stands: tuple[Stand, ...], hung: HungLamp, lowest_cm: float, highest_cm: float
) -> _LampStack:
    """Return one lamp's maps at full light at every position of the rail."""
    grid = even_grid(box.width_cm, box.depth_cm)
    transport = prepared_tent(box, grid, stands)
    heights = reachable_heights_cm(lowest_cm, highest_cm) + hung.raise_cm
    stack = height_stack(transport, hung.lamp, heights, grid.area_weights())
    nothing: Basis = "uncalibrated"
    bases: tuple[Basis, ...] = (nothing,) * len(heights)
    if hung.measured is not None:
        found = measured_stack(hung.measured, hung.whole or hung.lamp, hung.lamp, stack, transport)
        stack, bases = found.stack, _basis(hung, found.beyond)
    stack.ppfd.flags.writeable = False
    return _LampStack(stack.ppfd, bases)


@lru_cache(maxsize=KEPT)
def _hung_stacks(
    box: Enclosure,
    stands: tuple[Stand, ...],
    lamps: tuple[HungLamp, ...],
    lowest_cm: float,
    highest_cm: float,
) -> tuple[HeightStack, Array | None, tuple[Basis, ...]]:
    """Return the following lamps' stack, what the steady ones add, and what it all rests on."""
    stacks = [
        _lamp_stack(
            box,
            stands,
            replace(hung, own_light=None, own_watts=0.0, watts=0.0, life=NO_AGEING),
            lowest_cm,
            highest_cm,
        )
        for hung in lamps
    ]
    following = [s.ppfd for s, hung in zip(stacks, lamps) if hung.own_light is None]
    if not following:
        raise CanopyError("At least one lamp has to follow the dial; free one of them.", "lamps")
    held = [s.ppfd * hung.own_light for s, hung in zip(stacks, lamps) if hung.own_light is not None]
    weights = even_grid(box.width_cm, box.depth_cm).area_weights()
    ppfd = np.sum(following, axis=0)
    ppfd.flags.writeable = False
    heights = reachable_heights_cm(lowest_cm, highest_cm)
    bases = tuple(least_sure(at) for at in zip(*(s.bases for s in stacks)))
    steady = np.sum(held, axis=0) if held else None
    return HeightStack(heights, ppfd, weights), steady, bases


def standing_points(points_cm: Array, plots: tuple[Stand, ...]) -> Mask:
    """Return which points bear plants: those on a plot, or all when there is none."""
    if not plots:
        return np.ones(len(points_cm), dtype=bool)
    on: Mask = np.any([plot.covers(points_cm) for plot in plots], axis=0)
    return on if on.any() else np.ones(len(points_cm), dtype=bool)


@lru_cache(maxsize=KEPT)
def bench(problem: StageProblem) -> Bench:
    """Return the prepared answer to a problem.

    Raises
    ------
    CanopyError
        When no height or no timer step is left to choose, or no lamp follows the dial.
    """
    target = problem.target
    hours = timer_hours(target.hours_low, target.longest_day_h, problem.timer_step_min)
    stack, steady, bases = _hung_stacks(
        problem.box, problem.stands, problem.lamps, problem.lowest_cm, problem.highest_cm
    )
    follow = sum(hung.watts for hung in problem.lamps if hung.own_light is None)
    held = sum(hung.own_watts for hung in problem.lamps if hung.own_light is not None)
    grid = even_grid(problem.box.width_cm, problem.box.depth_cm)
    points = prepared_tent(problem.box, grid, problem.stands).points_cm
    standing = standing_points(points, problem.plots)
    space = lever_space(
        stack,
        problem.dimmer,
        follow,
        hours,
        steady,
        held,
        problem.losses,
        problem.daylight_dli,
        standing,
    )
    return Bench(
        grid=grid,
        points_cm=points,
        stack=stack,
        steady=steady,
        space=space,
        standing=standing,
        masks=target_masks(space, target),
        solution=solve(space, target, problem.over_cap, problem.aim, problem.locks),
        bases=bases,
    )
