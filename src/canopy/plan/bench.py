"""A stage's lamps in one tent, prepared once and asked many times.

What is prepared is kept, the most recent first and no more than a few, so that a moved lever
costs a look-up. Safe under threads: the kept arrays are read-only.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from canopy.crop.photoperiod import timer_hours
from canopy.crop.targets import StageTarget
from canopy.daylight.lampday import lit_by
from canopy.errors import CanopyError
from canopy.fixture.ageing import NO_AGEING
from canopy.light.brightest import brightest
from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import HeightStack, direct_stack, height_stack, mirrored_stack
from canopy.light.lightmap import Grid, even_grid, share_inside
from canopy.light.measured import FEWEST_READINGS, HEIGHTS_APART_CM, measured_stack
from canopy.light.obstacles import Obstacles, plates_of
from canopy.light.sources import PlacedLamp
from canopy.light.stands import Stand, raised
from canopy.light.transport import Straight, Transport, prepare
from canopy.once import once
from canopy.parallel import at_once
from canopy.plan.certainty import least_sure
from canopy.plan.doubts import (
    Doubts,
    PartName,
    dial_doubt,
    lamp_doubts,
    lining_doubt,
    mixed,
    relined_rows,
    relined_shares,
)
from canopy.plan.levers import ApartLamps, Basis, LeverSpace, lever_space
from canopy.plan.problem import HungLamp, StagePlace, StageProblem
from canopy.plan.solver import Solution, solve, target_masks
from canopy.power.hanging import reachable_heights_cm
from canopy.quantities import DLI_PER_UMOL_HOUR

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

KEPT = 24
KEPT_LAMPS = 64
KEPT_BLOCKS = 256


@dataclass(frozen=True)
class Held:
    """A map held against a band of PPFD, shape (points,), and the share of the plants inside."""

    ppfd: Array
    low: float
    high: float
    inside: float


@dataclass(frozen=True)
class Bench:
    """A prepared problem: the maps at all heights, all settings, and the best of them.

    ``standing``, shape (points,), says where plants stand, ``masks`` where each target holds.
    ``stack`` holds the lamps that follow the dial, ``steady`` (heights, points) what the others add
    at their own, ``apart`` what those add that are on a timer of their own; ``bases`` what the
    answer at each height rests on.
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


@once(KEPT)
def prepared_tent(box: Enclosure, grid: Grid, stands: tuple[Stand, ...] = ()) -> Transport:
    """Return the transport operator of a tent for a grid on its canopy."""
    points = raised(grid.points_cm(box.width_cm, box.depth_cm), stands)
    transport = prepare(box, points, things=Obstacles(stands))
    transport.operator.flags.writeable = False
    return transport


@dataclass(frozen=True)
class _LampStack:
    """One lamp's maps, what they rest on, and what a lining darker and brighter would change.

    ``relined`` is as :func:`~canopy.plan.doubts.relined_shares` has it.
    """

    ppfd: Array
    bases: tuple[Basis, ...]
    relined: Array


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


FEW_HEIGHTS = 3


def _straight_rows(
    box: Enclosure,
    stands: tuple[Stand, ...],
    lamp: PlacedLamp,
    others: tuple[PlacedLamp, ...],
    heights_cm: Array,
    step_cm: float,
) -> tuple[Array, Array] | None:
    """Return what comes straight and by mirrors at heights, from tables all levels share.

    Nothing where so few heights are asked for that a table is not worth it.
    """
    count = len(heights_cm)
    if count <= FEW_HEIGHTS:
        return None
    # the ceiling plays no part in it
    sides = replace(box, height_cm=ANY_CEILING_CM, ceiling_reflectance=0.0, canopy_reflectance=0.0)
    asked = sides, stands, lamp, others, float(heights_cm[0]), step_cm
    size = max(round(BLOCK_CM / step_cm), 1)
    blocks = at_once(lambda start: _direct(*asked, start, size), range(0, count, size))
    whole = max(round(TABLE_CM / step_cm), 1)
    mirrored = _mirrored(*asked, whole * -(-count // whole))
    return np.concatenate(blocks)[:count], mirrored[:count]


BLOCK_CM = 24.0
"""Tables of light that comes straight are made in blocks as high as this, by whoever asks first."""

TABLE_CM = 240.0
"""Tables of light by mirrors go up to a whole multiple of it: it is smooth and takes no more."""

ANY_CEILING_CM = 500.0


def _way(sides: Enclosure, stands: tuple[Stand, ...]) -> Straight:
    grid = even_grid(sides.width_cm, sides.depth_cm)
    points = raised(grid.points_cm(sides.width_cm, sides.depth_cm), stands)
    return Straight(sides, points, Obstacles(stands))


def _heights(first_cm: float, step_cm: float, start: int, count: int) -> Array:
    rows: Array = first_cm + step_cm * (start + np.arange(count, dtype=np.float64))
    return rows


@once(KEPT_BLOCKS)
def _direct(
    sides: Enclosure,
    stands: tuple[Stand, ...],
    lamp: PlacedLamp,
    others: tuple[PlacedLamp, ...],
    first_cm: float,
    step_cm: float,
    start: int,
    count: int,
) -> Array:
    return direct_stack(
        _way(sides, stands), lamp, _heights(first_cm, step_cm, start, count), others
    )


@once(KEPT)
def _mirrored(
    sides: Enclosure,
    stands: tuple[Stand, ...],
    lamp: PlacedLamp,
    others: tuple[PlacedLamp, ...],
    first_cm: float,
    step_cm: float,
    count: int,
) -> Array:
    return mirrored_stack(_way(sides, stands), lamp, _heights(first_cm, step_cm, 0, count))


@once(KEPT_LAMPS)
def _lamp_stack(
    box: Enclosure,
    stands: tuple[Stand, ...],
    hung: HungLamp,
    lowest_cm: float,
    highest_cm: float,
    step_cm: float,
    others: tuple[PlacedLamp, ...] = (),
) -> _LampStack:
    """Return one lamp's maps at full light at every position of the rail.

    ``others`` hang on it too, as high above its lower end as their height says.
    """
    grid = even_grid(box.width_cm, box.depth_cm)
    transport = prepared_tent(box, grid, stands)
    heights = reachable_heights_cm(lowest_cm, highest_cm, step_cm) + hung.raise_cm
    lamp = replace(hung.lamp, height_cm=hung.raise_cm)
    straight = _straight_rows(box, stands, lamp, others, heights, step_cm)
    stack = height_stack(transport, lamp, heights, grid.area_weights(), others, straight)
    nothing: Basis = "uncalibrated"
    bases: tuple[Basis, ...] = (nothing,) * len(heights)
    relined = relined_shares(transport, lamp, stack)
    if hung.measured is not None:
        found = measured_stack(hung.measured, hung.whole or hung.lamp, hung.lamp, stack, transport)
        stack, bases = found.stack, _basis(hung, found.beyond)
    stack.ppfd.flags.writeable = False
    return _LampStack(stack.ppfd, bases, relined)


SLACK_CM = 1e-6


@dataclass(frozen=True)
class _Stacks:
    """Maps of following lamps, of those held at their own, and of those apart, over heights."""

    stack: HeightStack
    steady: Array | None
    apart: tuple[Array, ...]
    bases: tuple[Basis, ...]
    parts: dict[PartName, Array]

    def between(self, low_cm: float, high_cm: float) -> "_Stacks":
        """Return them from one height to another."""
        heights = self.stack.heights_cm
        at = (heights > low_cm - SLACK_CM) & (heights < high_cm + SLACK_CM)
        return _Stacks(
            HeightStack(heights[at], self.stack.ppfd[at], self.stack.weights),
            None if self.steady is None else self.steady[at],
            tuple(maps[at] for maps in self.apart),
            tuple(basis for basis, keep in zip(self.bases, at) if keep),
            {name: part[at] for name, part in self.parts.items()},
        )

    def joined(self, early: "_Stacks") -> "_Stacks":
        """Return them with the early ones after their last, scaled so that both agree there."""
        steady = self.steady
        if steady is not None and early.steady is not None:
            steady = _joined(steady, early.steady)
        return _Stacks(
            HeightStack(
                np.concatenate([self.stack.heights_cm, early.stack.heights_cm[1:]]),
                _joined(self.stack.ppfd, early.stack.ppfd),
                self.stack.weights,
            ),
            steady,
            tuple(_joined(late, first) for late, first in zip(self.apart, early.apart)),
            (*self.bases, *early.bases[1:]),
            {
                name: np.concatenate([part, early.parts[name][1:]])
                for name, part in self.parts.items()
            },
        )


def _bodies(lamps: tuple[HungLamp, ...], hung: HungLamp) -> tuple[PlacedLamp, ...]:
    """Return the other lamps that have a body, each as high as it hangs above the rail's end."""
    there = [replace(o.lamp, height_cm=o.raise_cm) for o in lamps if o is not hung]
    return tuple(lamp for lamp in there if plates_of(lamp))


@lru_cache(maxsize=KEPT)
def _hung_stacks(
    box: Enclosure,
    stands: tuple[Stand, ...],
    lamps: tuple[HungLamp, ...],
    lowest_cm: float,
    highest_cm: float,
    step_cm: float,
) -> _Stacks:
    """Return the lamps' maps at every position of the rail, and what it all rests on."""
    stacks = [
        _lamp_stack(
            box,
            stands,
            replace(
                hung,
                own_light=None,
                own_watts=0.0,
                own_windows=(),
                group=0,
                watts=0.0,
                life=NO_AGEING,
            ),
            lowest_cm,
            highest_cm,
            step_cm,
            _bodies(lamps, hung),
        )
        for hung in lamps
    ]
    following = [s.ppfd for s, hung in zip(stacks, lamps) if hung.own_light is None]
    if not following:
        raise CanopyError("At least one lamp has to follow the dial; free one of them.", "lamps")

    held = [
        (s.ppfd * hung.own_light, hung)
        for s, hung in zip(stacks, lamps)
        if hung.own_light is not None
    ]
    steady = [ppfd for ppfd, hung in held if not hung.own_windows]
    apart = tuple(ppfd for ppfd, hung in held if hung.own_windows)
    ppfd = np.sum(following, axis=0)
    ppfd.flags.writeable = False
    heights = reachable_heights_cm(lowest_cm, highest_cm, step_cm)
    weights = even_grid(box.width_cm, box.depth_cm).area_weights()
    stack = HeightStack(heights, ppfd, weights)
    bases = tuple(least_sure(at) for at in zip(*(s.bases for s in stacks)))
    parts = _parts(box, lamps, stacks, heights, weights)
    return _Stacks(stack, np.sum(steady, axis=0) if steady else None, apart, bases, parts)


def _parts(
    box: Enclosure,
    lamps: tuple[HungLamp, ...],
    stacks: list[_LampStack],
    heights_cm: Array,
    weights: Array,
) -> dict[PartName, Array]:
    """Return the parts of what is not known of lamps' light together."""
    light = [1.0 if hung.own_light is None else hung.own_light for hung in lamps]
    maps = [s.ppfd * own for s, own in zip(stacks, light)]
    whole = np.sum(maps, axis=0)
    rows = relined_rows(len(heights_cm))
    added = np.sum([s.relined * own_map[rows] for s, own_map in zip(stacks, maps)], axis=0)
    lining = lining_doubt(whole, added, weights)
    means = np.array([each @ weights for each in maps])
    shares = means / np.maximum(means.sum(axis=0), 1e-12)
    open_share = sum(r == 0 for r in box.wall_reflectance) / len(box.wall_reflectance)
    each_parts = [
        lamp_doubts(
            heights_cm + hung.raise_cm,
            lining,
            hung.known.ppf_sd,
            hung.known.footprint,
            hung.measured,
            hung.measured_here,
            hung.lamp.tilt_deg != 0
            or (hung.whole is not None and hung.whole.layout != hung.lamp.layout),
            hung.known.sensor,
            open_share,
        )
        for hung in lamps
    ]
    return mixed(each_parts, shares)


def hung_ppfd(problem: StageProblem, box: Enclosure, height_cm: float) -> tuple[Array, Array]:
    """Return a problem's light at one height in another box: lamps that follow, and held ones.

    Those on the plan's own timer, at the points of its grid, shape (points,); lamps that follow
    the dial at full light.
    """
    step = problem.reach.step_cm
    found = _hung_stacks(
        box, problem.stands, problem.lamps, height_cm - step / 4, height_cm + step / 4, step
    )
    follow = found.stack.ppfd[0]
    return follow, np.zeros_like(follow) if found.steady is None else found.steady[0]


def _stage_stacks(problem: StageProblem) -> _Stacks:
    """Return the stacks of a stage over all heights its lamps can have above the tops.

    Those beyond what the stage's end leaves are had only before it. They are computed with the
    tops where they stand at its beginning, and joined to the others where both are known. All
    heights of that beginning are asked for: a stage before ends in the same tent.
    """
    box, step = problem.box, problem.reach.step_cm
    by_cm, lowest_cm, highest_cm = problem.growth.by_cm, problem.lowest_cm, problem.highest_cm
    join = float(reachable_heights_cm(lowest_cm, highest_cm, step)[-1])
    high = (problem.highest_step - int(problem.tops_in_steps()[0])) * step
    tents = [(box, highest_cm)]
    if high > join + step / 2:
        tall = round(box.height_cm + by_cm, DECIMALS)
        tents.append((replace(box, height_cm=tall), highest_cm + by_cm))

    def hung(tent: tuple[Enclosure, float]) -> _Stacks:
        low, top = reachable_heights_cm(lowest_cm, tent[1], step)[[0, -1]]
        return _hung_stacks(tent[0], problem.stands, problem.lamps, float(low), float(top), step)

    late, *early = at_once(hung, tents)
    return late.joined(early[0].between(join, high)) if early else late


DECIMALS = 6
"""Of a tent's height: the same tent by two ways is one."""


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


def _joined(late: Array, early: Array) -> Array:
    """Return maps over heights (n, points), with the early ones scaled to the last of the late."""
    share = np.divide(late[-1], early[0], out=np.ones_like(early[0]), where=early[0] > 0)
    joined: Array = np.concatenate([late, early[1:] * share])
    joined.flags.writeable = False
    return joined


PEAK_CELLS = 3.0
"""Lamps nearer to the tops than so many of the grid's cells hide their brightest spot between its
points."""


def _peak_gain(problem: StageProblem, stacks: _Stacks, points: Array, standing: Mask) -> Array:
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
    stacks = _stage_stacks(problem)
    follow = sum(hung.watts for hung in problem.lamps if hung.own_light is None)
    held = sum(hung.own_watts for hung in problem.lamps if not hung.own_windows)
    apart = _apart(problem, stacks.apart, float(hours[choices][-1]))
    grid = even_grid(problem.box.width_cm, problem.box.depth_cm)
    points = prepared_tent(problem.box, grid, problem.stands).points_cm
    standing = standing_points(points, problem.plots)
    stack = stacks.stack
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
        _peak_gain(problem, stacks, points, standing),
    )
    lasting = stack.heights_cm <= problem.highest_cm + 1e-9
    if problem.fixed:
        lasting = np.abs(stack.heights_cm - problem.fixed_cm) < problem.reach.step_cm / 2
    inside = lasting & problem.reach.inside(stack.heights_cm)
    leading = next(hung for hung in problem.lamps if hung.own_light is None)
    space = replace(
        space,
        doubts=Doubts(stacks.parts, dial_doubt(space.light, leading.known.dial)),
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
    )
