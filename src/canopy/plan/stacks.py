"""A stage's lamps over all heights of the rail: their maps, what those rest on, and how sure.

What is prepared is kept, the most recent first and no more than a few. Safe under threads: the kept
arrays are read-only.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.fixture.ageing import NO_AGEING
from canopy.light.enclosure import Enclosure, sides_of
from canopy.light.heightstack import (
    HeightStack,
    Reflected,
    direct_stack,
    height_stack,
    mirrored_stack,
    reflected_stack,
)
from canopy.light.lightmap import Grid, even_grid
from canopy.light.measured import FEWEST_READINGS, HEIGHTS_APART_CM, measured_stack
from canopy.light.obstacles import Obstacles, plates_of
from canopy.light.sources import PlacedLamp
from canopy.light.stands import Stand, raised
from canopy.light.transport import Straight, Transport, prepare
from canopy.measure.learnt import Corrected, Figures, corrected
from canopy.once import once
from canopy.parallel import at_once
from canopy.plan.certainty import least_sure
from canopy.plan.doubts import (
    PartName,
    lamp_doubts,
    lining_doubt,
    mixed,
    relined_rows,
    relined_shares,
)
from canopy.plan.levers import Basis
from canopy.plan.problem import Growth, HungLamp, StageProblem
from canopy.power.hanging import reachable_heights_cm

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

KEPT = 24
KEPT_LAMPS = 64
KEPT_BLOCKS = 256


@once(KEPT)
def prepared_tent(box: Enclosure, grid: Grid, stands: tuple[Stand, ...] = ()) -> Transport:
    """Return the transport operator of a tent for a grid on its canopy."""
    points = raised(grid.points_cm(box.width_cm, box.depth_cm), stands)
    transport = prepare(box, points, things=Obstacles(stands))
    transport.operator.flags.writeable = False
    return transport


def stage_tent(box: Enclosure, stands: tuple[Stand, ...] = ()) -> Transport:
    """Return a tent prepared for the grid that stages are planned on."""
    return prepared_tent(box, even_grid(box.width_cm, box.depth_cm), stands)


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
    sides = sides_of(box)
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


@once(KEPT)
def _reflected(
    box: Enclosure,
    stands: tuple[Stand, ...],
    lamp: PlacedLamp,
    others: tuple[PlacedLamp, ...],
    lowest_cm: float,
    highest_cm: float,
    step_cm: float,
) -> Reflected:
    transport = stage_tent(box, stands)
    heights = reachable_heights_cm(lowest_cm, highest_cm, step_cm) + lamp.height_cm
    return reflected_stack(transport, lamp, heights, others)


@once(KEPT_LAMPS)
def _lamp_stack(
    box: Enclosure,
    stands: tuple[Stand, ...],
    hung: HungLamp,
    lowest_cm: float,
    highest_cm: float,
    step_cm: float,
    others: tuple[PlacedLamp, ...] = (),
    low: bool = True,
) -> _LampStack:
    """Return one lamp's maps at full light at every position of the rail.

    ``others`` hang on it too, as high above its lower end as their height says. Not ``low``:
    nobody asks where it is low.
    """
    grid = even_grid(box.width_cm, box.depth_cm)
    transport = stage_tent(box, stands)
    heights = reachable_heights_cm(lowest_cm, highest_cm, step_cm) + hung.raise_cm
    lamp = replace(hung.lamp, height_cm=hung.raise_cm)
    straight = _straight_rows(box, stands, lamp, others, heights, step_cm)
    reflected = _reflected(box, stands, lamp, others, lowest_cm, highest_cm, step_cm)
    stack = height_stack(
        transport, lamp, heights, grid.area_weights(), others, straight, reflected, low
    )
    nothing: Basis = "learnt" if hung.known.learnt else "uncalibrated"
    bases: tuple[Basis, ...] = (nothing,) * len(heights)
    relined = relined_shares(transport, lamp, stack)
    if hung.measured is not None:
        found = measured_stack(hung.measured, hung.whole or hung.lamp, hung.lamp, stack, transport)
        stack, bases = found.stack, _basis(hung, found.beyond)
    stack.ppfd.flags.writeable = False
    return _LampStack(stack.ppfd, bases, relined)


SLACK_CM = 1e-6


@dataclass(frozen=True)
class FitOver:
    """What a fit of all the lamps says of the figures at the rail's heights.

    ``true`` is of the true light, ``read`` as the grower's sensor shows it.
    """

    found: Corrected
    true: Figures
    read: Figures

    def of(
        self, change: Callable[[Array, Array], Array], other: "FitOver | None" = None
    ) -> "FitOver":
        """Return it with its rows over heights changed, beside those of another."""
        beside = other or self
        true, read = (
            Figures(change(own.gain, its.gain), change(own.sd, its.sd))
            for own, its in ((self.true, beside.true), (self.read, beside.read))
        )
        return FitOver(self.found, true, read)


@dataclass(frozen=True)
class Stacks:
    """Maps of following lamps, of those held at their own, and of those apart, over heights."""

    stack: HeightStack
    steady: Array | None
    apart: tuple[Array, ...]
    bases: tuple[Basis, ...]
    parts: dict[PartName, Array]
    fit: "FitOver | None" = None

    def between(self, low_cm: float, high_cm: float) -> "Stacks":
        """Return them from one height to another."""
        heights = self.stack.heights_cm
        at = (heights > low_cm - SLACK_CM) & (heights < high_cm + SLACK_CM)
        return Stacks(
            HeightStack(heights[at], self.stack.ppfd[at], self.stack.weights),
            None if self.steady is None else self.steady[at],
            tuple(maps[at] for maps in self.apart),
            tuple(basis for basis, keep in zip(self.bases, at) if keep),
            {name: part[at] for name, part in self.parts.items()},
            None if self.fit is None else self.fit.of(lambda rows, _: rows[at]),
        )

    def joined(self, early: "Stacks") -> "Stacks":
        """Return them with the early ones after their last, scaled so that both agree there."""
        steady = self.steady
        if steady is not None and early.steady is not None:
            steady = _joined(steady, early.steady)
        return Stacks(
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
            None
            if self.fit is None or early.fit is None
            else self.fit.of(lambda rows, others: np.concatenate([rows, others[1:]]), early.fit),
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
    low: bool = True,
) -> Stacks:
    """Return the lamps' maps at every position of the rail, and what it all rests on.

    Not ``low``: nobody asks where lamps are low.
    """
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
                fitted=None,
            ),
            lowest_cm,
            highest_cm,
            step_cm,
            _bodies(lamps, hung),
            # readings are held against the light wherever they were taken
            low or hung.measured is not None,
        )
        for hung in lamps
    ]
    heights = reachable_heights_cm(lowest_cm, highest_cm, step_cm)
    fits = _corrections(stands, lamps)
    stacks = [
        s if found is None else _as_fitted(s, found, hung, lamps, heights)
        for s, hung, found in zip(stacks, lamps, fits)
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
    weights = even_grid(box.width_cm, box.depth_cm).area_weights()
    stack = HeightStack(heights, ppfd, weights)
    bases = tuple(least_sure(at) for at in zip(*(s.bases for s in stacks)))
    over = [
        None if found is None else _over(found, _lowest_of(hung, lamps, heights))
        for hung, found in zip(lamps, fits)
    ]
    parts = _parts(box, lamps, stacks, heights, weights, over)
    whole = over[0] if all(each is not None for each in over) else None
    return Stacks(stack, np.sum(steady, axis=0) if steady else None, apart, bases, parts, whole)


def _fitted_with(hung: HungLamp, lamps: tuple[HungLamp, ...]) -> list[HungLamp]:
    """Return the lamps that one fit corrects, in its own order."""
    assert hung.fitted is not None
    taken = hung.fitted.taken
    together = [each for each in lamps if each.fitted is not None and each.fitted.taken == taken]
    return sorted(together, key=lambda each: each.fitted.number if each.fitted else 0)


def _corrections(stands: tuple[Stand, ...], lamps: tuple[HungLamp, ...]) -> list[Corrected | None]:
    """Return what a fit makes of each lamp, none of those it does not know."""
    found: list[Corrected | None] = []
    for hung in lamps:
        if hung.fitted is None:
            found.append(None)
            continue
        there = tuple(
            replace(each.lamp, height_cm=each.raise_cm + ABOVE_CM)
            for each in _fitted_with(hung, lamps)
        )
        found.append(corrected(hung.fitted.taken, hung.fitted.box, there, stands))
    return found


ABOVE_CM = 40.0
"""Where the rail hangs while only the lamps' distances in height count."""


def _lowest_of(hung: HungLamp, lamps: tuple[HungLamp, ...], heights_cm: Array) -> Array:
    """Return the lowest of a fit's lamps at the rail's heights."""
    return heights_cm + min(each.raise_cm for each in _fitted_with(hung, lamps))


def _over(found: Corrected, heights_cm: Array) -> FitOver:
    at = heights_cm, found.heights_cm
    return FitOver(found, found.true.at(*at), found.read.at(*at))


def _as_fitted(
    stack: _LampStack,
    found: Corrected,
    hung: HungLamp,
    lamps: tuple[HungLamp, ...],
    heights_cm: Array,
) -> _LampStack:
    """Return a lamp's maps as a fit corrects them."""
    assert hung.fitted is not None
    ratio = found.ratio(hung.fitted.number, _lowest_of(hung, lamps, heights_cm))
    fitted: Basis = "fitted"
    return _LampStack(stack.ppfd * ratio, (fitted,) * len(heights_cm), stack.relined)


def _parts(
    box: Enclosure,
    lamps: tuple[HungLamp, ...],
    stacks: list[_LampStack],
    heights_cm: Array,
    weights: Array,
    fits: list[FitOver | None],
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
    each_parts: list[dict[PartName, Array]] = [
        {"fit": fit.true.sd}
        if fit is not None
        else lamp_doubts(
            heights_cm + hung.raise_cm,
            lining * hung.known.lining,
            hung.known.ppf_sd,
            hung.known.footprint,
            hung.measured,
            hung.measured_here,
            hung.lamp.tilt_deg != 0
            or (hung.whole is not None and hung.whole.layout != hung.lamp.layout),
            hung.known.sensor,
            open_share,
        )
        for hung, fit in zip(lamps, fits)
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


def stage_stacks(problem: StageProblem) -> Stacks:
    """Return the stacks of a stage over all heights its lamps can have above the tops.

    Those beyond what the stage's end leaves are had only before it. They are computed with the
    tops where they stand at its beginning, and joined to the others where both are known. All
    heights of that beginning are asked for: a stage before ends in the same tent.
    """
    box, step = problem.box, problem.reach.step_cm
    by_cm, lowest_cm, highest_cm = problem.growth.by_cm, problem.lowest_cm, problem.highest_cm
    join = float(reachable_heights_cm(lowest_cm, highest_cm, step)[-1])
    high = (problem.highest_step - int(problem.tops_in_steps()[0])) * step
    tents = [(box, highest_cm, lowest_cm)]
    if high > join + step / 2:
        tents.append((box_before_growth(box, problem.growth), highest_cm + by_cm, join))

    def hung(tent: tuple[Enclosure, float, float]) -> Stacks:
        space, top_cm, from_cm = tent
        heights = reachable_heights_cm(lowest_cm, top_cm, step)
        low = _low_from(problem, space, heights, from_cm)
        ends = float(heights[0]), float(heights[-1])
        return _hung_stacks(space, problem.stands, problem.lamps, *ends, step, low)

    late, *early = at_once(hung, tents)
    return late.joined(early[0].between(join, high)) if early else late


def box_before_growth(box: Enclosure, growth: Growth) -> Enclosure:
    """Return a stage's box, tops to ceiling at its end, as it is at its beginning."""
    return replace(box, height_cm=round(box.height_cm + growth.by_cm, DECIMALS))


def _low_from(problem: StageProblem, box: Enclosure, heights_cm: Array, from_cm: float) -> bool:
    """Return whether lamps can be low where heights from one on are asked for.

    What hangs on the lining is carried between a few heights, the first of which are low.
    """
    second = relined_rows(len(heights_cm))[:2][-1]
    if from_cm <= heights_cm[second]:
        return True
    tent = stage_tent(box, problem.stands)
    there = [replace(h.lamp, height_cm=from_cm + h.raise_cm) for h in problem.lamps]
    return any(tent.low(lamp) > 0 for lamp in there)


DECIMALS = 6
"""Of a tent's height: the same tent by two ways is one."""


def _joined(late: Array, early: Array) -> Array:
    """Return maps over heights (n, points), with the early ones scaled to the last of the late."""
    share = np.divide(late[-1], early[0], out=np.ones_like(early[0]), where=early[0] > 0)
    joined: Array = np.concatenate([late, early[1:] * share])
    joined.flags.writeable = False
    return joined
