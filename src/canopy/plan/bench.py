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
from canopy.plan.certainty import least_sure
from canopy.plan.levers import Basis, LeverSpace, lever_space
from canopy.plan.problem import HungLamp, StagePlace, StageProblem
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
    box: Enclosure,
    stands: tuple[Stand, ...],
    hung: HungLamp,
    lowest_cm: float,
    highest_cm: float,
    step_cm: float,
) -> _LampStack:
    """Return one lamp's maps at full light at every position of the rail."""
    grid = even_grid(box.width_cm, box.depth_cm)
    transport = prepared_tent(box, grid, stands)
    heights = reachable_heights_cm(lowest_cm, highest_cm, step_cm) + hung.raise_cm
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
    step_cm: float,
) -> tuple[HeightStack, Array | None, tuple[Basis, ...]]:
    """Return the following lamps' stack, what the steady ones add, and what it all rests on."""
    stacks = [
        _lamp_stack(
            box,
            stands,
            replace(hung, own_light=None, own_watts=0.0, watts=0.0, life=NO_AGEING),
            lowest_cm,
            highest_cm,
            step_cm,
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
    heights = reachable_heights_cm(lowest_cm, highest_cm, step_cm)
    bases = tuple(least_sure(at) for at in zip(*(s.bases for s in stacks)))
    steady = np.sum(held, axis=0) if held else None
    return HeightStack(heights, ppfd, weights), steady, bases


def hung_ppfd(problem: StageProblem, box: Enclosure, height_cm: float) -> tuple[Array, Array]:
    """Return a problem's light at one height in another box: following lamps, held ones.

    Both at the points of its grid, shape (points,); those that follow the dial at full light.
    """
    step = problem.reach.step_cm
    stack, steady, _ = _hung_stacks(
        box, problem.stands, problem.lamps, height_cm - step / 4, height_cm + step / 4, step
    )
    return stack.ppfd[0], np.zeros_like(stack.ppfd[0]) if steady is None else steady[0]


def _stage_stacks(problem: StageProblem) -> tuple[HeightStack, Array | None, tuple[Basis, ...]]:
    """Return the stacks of a stage over all heights its lamps can have above the tops.

    Those beyond what the stage's end leaves are had only before it. They are computed with the
    tops where they stand at its beginning, and joined to the others where both are known.
    """
    box, growth, step = problem.box, problem.growth.by_cm, problem.reach.step_cm
    stack, steady, bases = _hung_stacks(
        box, problem.stands, problem.lamps, problem.lowest_cm, problem.highest_cm, step
    )
    high = (problem.highest_step - int(problem.tops_in_steps()[0])) * step
    # from the last height both have, where they are joined
    join = float(stack.heights_cm[-1])
    if high < join + step / 2:
        return stack, steady, bases
    early = replace(box, height_cm=box.height_cm + growth)
    first, first_steady, first_bases = _hung_stacks(
        early, problem.stands, problem.lamps, join, high, step
    )
    joined = HeightStack(
        np.concatenate([stack.heights_cm, first.heights_cm[1:]]),
        _joined(stack.ppfd, first.ppfd),
        stack.weights,
    )
    if steady is not None and first_steady is not None:
        steady = _joined(steady, first_steady)
    return joined, steady, (*bases, *first_bases[1:])


def _joined(late: Array, early: Array) -> Array:
    """Return maps over heights (n, points), with the early ones scaled to the last of the late."""
    share = np.divide(late[-1], early[0], out=np.ones_like(early[0]), where=early[0] > 0)
    joined: Array = np.concatenate([late, early[1:] * share])
    joined.flags.writeable = False
    return joined


def standing_points(points_cm: Array, plots: tuple[Stand, ...]) -> Mask:
    """Return which points bear plants: those on a plot, or all when there is none."""
    if not plots:
        return np.ones(len(points_cm), dtype=bool)
    on: Mask = np.any([plot.covers(points_cm) for plot in plots], axis=0)
    return on if on.any() else np.ones(len(points_cm), dtype=bool)


def stage_hours(problem: StageProblem | StagePlace) -> tuple[Array, Mask]:
    """Return the lamp's hours a timer can keep, ascending, and which of them a plan may choose.

    Shorter ones than the crop asks can be tried. With daylight a plan may choose those with
    which lamp and daylight make the crop's day; without any, all that are not too long.

    Raises
    ------
    CanopyError
        When no timer step is left to choose.
    """
    target, step, day = problem.target, problem.timer_step_min, problem.losses.day
    asked = timer_hours(target.hours_low, target.longest_day_h, step)
    hours = timer_hours(min(step / 60, float(asked[0])), target.longest_day_h, step)
    choices: Mask = hours >= asked[0] - step / 120
    if day.sun is not None:
        fits = np.array([day.fits(float(each)) for each in hours])
        choices = fits if fits.any() else np.ones(len(hours), bool)
    return hours, choices


@lru_cache(maxsize=KEPT)
def bench(problem: StageProblem) -> Bench:
    """Return the prepared answer to a problem.

    Raises
    ------
    CanopyError
        When no height or no timer step is left to choose, or no lamp follows the dial.
    """
    target = problem.target
    hours, choices = stage_hours(problem)
    stack, steady, bases = _stage_stacks(problem)
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
    lasting = stack.heights_cm <= problem.highest_cm + 1e-9
    inside = lasting & problem.reach.inside(stack.heights_cm)
    space = replace(
        space,
        height_choices=inside if inside.any() else lasting,
        height_reach=lasting,
        hours_choices=choices,
        bases=bases,
    )
    return Bench(
        grid=grid,
        points_cm=points,
        stack=stack,
        steady=steady,
        space=space,
        standing=standing,
        masks=target_masks(space, target),
        solution=solve(
            space if problem.locks.hours is not None else space.choosing(),
            target,
            problem.over_cap,
            problem.aim,
            problem.locks,
            why=False,
        ),
        bases=bases,
    )
