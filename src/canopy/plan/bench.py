"""A stage's lamps in one tent, prepared once and asked many times.

What is prepared is kept, the most recent first and no more than a few, so that a moved lever
costs a look-up. Safe under threads: the kept arrays are read-only.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from canopy.constants import NINETY
from canopy.crop.photoperiod import timer_hours
from canopy.crop.targets import StageTarget
from canopy.daylight.lampday import lit_by
from canopy.light.brightest import brightest
from canopy.light.heightstack import HeightStack
from canopy.light.lightmap import Grid, even_grid, share_inside
from canopy.light.stands import Stand, raised
from canopy.plan.certainty import MOST_TOLERANCE
from canopy.plan.doubts import (
    BRIGHTEST,
    DIMMEST,
    MEAN,
    Doubts,
    dial_doubt,
)
from canopy.plan.levers import ApartLamps, Basis, LeverSpace, lever_space
from canopy.plan.problem import StagePlace, StageProblem
from canopy.plan.solver import Solution, solve, target_masks
from canopy.plan.stacks import FitOver, Stacks, prepared_tent, stage_stacks
from canopy.quantities import DLI_PER_UMOL_HOUR

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
KEPT = 24


@dataclass(frozen=True)
class Held:
    """A map held against a band of PPFD, shape (points,), and the share of the plants inside."""

    ppfd: Array
    low: float
    high: float
    inside: float


@dataclass(frozen=True)
class Shown:
    """A figure with the ends of its 90 % range, umol m-2 s-1."""

    low: float
    middle: float
    high: float


@dataclass(frozen=True)
class AsRead:
    """Mean, brightest and dimmest spot as a sensor shows them, its own error in them."""

    mean: Shown
    brightest: Shown
    dimmest: Shown


@dataclass(frozen=True)
class Bench:
    """A prepared problem: the maps at all heights, all settings, and the best of them.

    ``standing``, shape (points,), says where plants stand, ``masks`` where each target holds.
    ``stack`` holds the lamps that follow the dial, ``steady`` (heights, points) what the others add
    at their own, ``apart`` what those add that are on a timer of their own; ``bases`` what the
    answer at each height rests on, ``fit`` what a fit of all the lamps says of it.
    """

    grid: Grid
    points_cm: Array
    stack: HeightStack
    steady: Array | None
    apart: ApartLamps | None
    space: LeverSpace
    standing: Mask
    masks: dict[str, Mask]
    solution: Solution
    bases: tuple[Basis, ...]
    fit: FitOver | None = None

    def ppfd(self, index: tuple[int, int, int]) -> Array:
        """Return the map at a setting while all lamps are on that ever are, shape (points,)."""
        ppfd = self.timed_ppfd(index)
        if self.apart is not None:
            ppfd += self.apart.beside[index[0]]
        return ppfd

    def timed_ppfd(self, index: tuple[int, int, int]) -> Array:
        """Return the map of the lamps on the plan's own timer alone, shape (points,)."""
        h, d, _ = index
        ppfd: Array = self.stack.ppfd[h] * self.space.light[d]
        if self.steady is not None:
            ppfd = ppfd + self.steady[h]
        return ppfd

    def day_ppfd(self, index: tuple[int, int, int]) -> Array:
        """Return the map that over the plan's own hours makes all the lamps' day, shape (points,).

        The light of lamps apart is thought spread over those hours.
        """
        space, (h, _, t) = self.space, index
        per_umol = float(space.lamp_dli(1.0, float(space.hours[t])))
        if self.apart is None or per_umol <= 0:
            return self.ppfd(index)
        day: Array = self.timed_ppfd(index) + self.apart.dli[h] / per_umol
        return day

    def as_read(self, index: tuple[int, int, int]) -> AsRead | None:
        """Return what the grower's sensor would show of a setting, where a fit knows the sensor."""
        if self.fit is None:
            return None
        h, d, _ = index
        outcome, true, read = self.space.outcome(index), self.fit.true, self.fit.read
        dial = float(self.space.doubt.dial[d])

        def shown(value: float, figure: int, gain: float = 1.0) -> Shown:
            middle = value * float(read.gain[h, figure]) / gain
            by = min(NINETY * float(np.hypot(read.sd[h, figure], dial)), MOST_TOLERANCE)
            return Shown(middle * (1 - by), middle, middle * (1 + by))

        return AsRead(
            mean=shown(outcome.mean, MEAN),
            brightest=shown(outcome.peak, BRIGHTEST, float(true.gain[h, BRIGHTEST])),
            dimmest=shown(outcome.lowest, DIMMEST, float(true.gain[h, DIMMEST])),
        )

    def against_band(self, target: StageTarget, index: tuple[int, int, int]) -> Held:
        """Return the map that is held against the band at a setting, and where plants are in it.

        Against a band of PPFD what all lamps give at once, else what makes the day.
        """
        ppfd = self.day_ppfd(index) if target.own_ppfd_band is None else self.ppfd(index)
        low, high = self.space.lamp_band(target, float(self.space.hours[index[2]]))
        share = self.stack.weights[self.standing]
        return Held(
            ppfd, low, high, share_inside(ppfd[self.standing], share / share.sum(), low, high)
        )


def _apart(problem: StageProblem, maps: tuple[Array, ...], longest_h: float) -> ApartLamps | None:
    """Return the lamps on a timer of their own, at their own dials.

    One is thought to be on together with the plan's own where the longest day a plan may choose
    lets it.
    """
    if not maps:
        return None
    losses, none = problem.losses, np.zeros_like(maps[0])
    own = lit_by(losses.day.windows(longest_h))
    beside, alone, dli, kwh = none.copy(), none.copy(), none.copy(), 0.0
    for hung, ppfd in zip(problem.apart, maps):
        dli += ppfd * (losses.full_in(hung.own_windows) * DLI_PER_UMOL_HOUR)
        kwh += problem.apart_kwh(hung)
        if (own & lit_by(hung.own_windows)).any():
            beside += ppfd
        else:
            alone += ppfd
    return ApartLamps(beside, alone, dli, kwh)


PEAK_CELLS = 3.0
"""Lamps nearer to the tops than so many of the grid's cells hide their brightest spot between its
points."""


def _peak_gain(problem: StageProblem, stacks: Stacks, points: Array, standing: Mask) -> Array:
    """Return the brightest spot over the brightest point at every height, shape (h,).

    With every lamp that follows the dial at full light.
    """
    box, stands = problem.box, problem.stands
    grid = even_grid(box.width_cm, box.depth_cm)
    tent = prepared_tent(box, grid, stands)
    x, y = grid.axes_cm(box.width_cm, box.depth_cm)
    ppfd = stacks.stack.ppfd if stacks.steady is None else stacks.stack.ppfd + stacks.steady
    gain = np.ones(len(ppfd))
    near_cm = PEAK_CELLS * max(x[1] - x[0], y[1] - y[0]) + float(points[:, 2].max())
    low_cm = stacks.stack.heights_cm + min(hung.raise_cm for hung in problem.lamps)

    def counts(spots: Array) -> Mask:
        return standing_points(spots, problem.plots) if problem.plots else np.ones(len(spots), bool)

    for k in np.flatnonzero(low_cm < near_cm):
        height = stacks.stack.heights_cm[k]
        all_lamps = tuple(
            replace(hung.lamp, height_cm=float(height) + hung.raise_cm, light_fraction=1.0)
            for hung in problem.lamps
        )
        lamps = [
            (lamp, hung.own_light)
            for lamp, hung in zip(all_lamps, problem.lamps)
            if not hung.own_windows
        ]

        def direct_at(spots: Array, lamps: Any = lamps, others: Any = all_lamps) -> Array:
            there = raised(np.column_stack([spots, np.zeros(len(spots))]), stands)
            parts = [
                tent.direct_at(there, lamp, tuple(o for o in others if o is not lamp))
                * (1.0 if own is None else own)
                for lamp, own in lamps
            ]
            return np.asarray(np.sum(parts, axis=0))

        known = np.where(standing, ppfd[k], -np.inf)
        best = float(known.max())
        if best <= 0:
            continue
        direct = direct_at(points[:, :2])
        shape = grid.ny, grid.nx
        found = brightest(x, y, known.reshape(shape), direct.reshape(shape), direct_at, counts)
        gain[k] = found / best
    return gain


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
    stacks = stage_stacks(problem)
    follow = sum(hung.watts for hung in problem.lamps if hung.own_light is None)
    held = sum(hung.own_watts for hung in problem.lamps if not hung.own_windows)
    apart = _apart(problem, stacks.apart, float(hours[choices][-1]))
    grid = even_grid(problem.box.width_cm, problem.box.depth_cm)
    points = prepared_tent(problem.box, grid, problem.stands).points_cm
    standing = standing_points(points, problem.plots)
    stack = stacks.stack
    peak_gain, low_gain = _peak_gain(problem, stacks, points, standing), None
    fit = stacks.fit
    if fit is not None:
        peak_gain, low_gain = peak_gain * fit.true.gain[:, BRIGHTEST], fit.true.gain[:, DIMMEST]
    space = lever_space(
        stack,
        problem.dimmer,
        follow,
        hours,
        stacks.steady,
        held,
        problem.losses,
        problem.daylight_dli,
        standing,
        apart,
        peak_gain,
        low_gain,
    )
    lasting = stack.heights_cm <= problem.highest_cm + 1e-9
    if problem.fixed:
        lasting = np.abs(stack.heights_cm - problem.fixed_cm) < problem.reach.step_cm / 2
    inside = lasting & problem.reach.inside(stack.heights_cm)
    leading = next(hung for hung in problem.lamps if hung.own_light is None)
    dial = (
        dial_doubt(space.light, leading.known.dial)
        if fit is None
        else fit.found.dial_sd(space.light)
    )
    space = replace(
        space,
        doubts=Doubts(stacks.parts, dial),
        height_choices=inside if inside.any() else lasting,
        height_reach=lasting,
        hours_choices=choices,
        bases=stacks.bases,
    )
    return Bench(
        grid=grid,
        points_cm=points,
        stack=stack,
        steady=stacks.steady,
        apart=apart,
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
        bases=stacks.bases,
        fit=fit,
    )
