"""A stage's tables as its trips are planned by: which hang keeps the targets on which day."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import product
from math import ceil

import numpy as np
from numpy.typing import NDArray

from canopy.crop.targets import StageTarget
from canopy.plan.bench import Bench
from canopy.plan.certainty import Extremes, held, likely_at
from canopy.plan.levers import LeverSpace, Locks, Outcome, Setting
from canopy.plan.problem import Growth, StageProblem
from canopy.plan.trips import Pace, Paced, StageDays, Strictness

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
Whole = NDArray[np.int64]

MOST_SETTINGS = 600
"""Pairs of dial and hours looked at; of more, some are passed over evenly, the hours first."""

FEWEST_HOURS = 5
NEAR_MISS = 0.05
"""Where a target cannot be met on some day, any day may miss it by this share more: else every
centimetre the plants grow would be a trip. Our judgement."""

MARGIN = 0.85
"""Share of the best chance any setting has that days keep, where the chance is the aim: a trip is
not spared at the edge of a band. Our judgement."""

A_MOVE = 100.0
"""What a move within a stage counts, where moves count beside trips: more than its days."""

TIE = 0.01
"""What the energy, or the band's middle, weighs beside the aim."""


def let_go(target: StageTarget, outcome: Outcome, missed: tuple[str, ...]) -> StageTarget:
    """Return a target that an outcome keeps with a little to spare where it missed it."""
    down, up = 1 - NEAR_MISS, 1 + NEAR_MISS
    values: dict[str, float] = {}
    for name, value in {
        "dli_low": outcome.dli * down,
        "dli_high": outcome.dli * up,
        "ppfd_low": outcome.mean * down,
        "ppfd_high": outcome.mean * up,
        "evenness_goal": outcome.evenness * down,
        "hot_spot_cap": outcome.peak * up,
    }.items():
        if name in missed or (name == "evenness_goal" and "evenness" in missed):
            values[name] = value
    try:
        return replace(target, **values)  # type: ignore[arg-type]
    except ValueError:
        return target


def _thinned(positions: Whole, most: int, wanted: int) -> Whole:
    """Return at most so many positions, evenly, ends and the wanted one among them."""
    if len(positions) <= most:
        return positions
    few = positions[np.linspace(0, len(positions) - 1, max(most, 2)).round().astype(int)]
    return np.unique(np.append(few, wanted))


def _positions(space: LeverSpace, locks: Locks, chosen: Setting) -> tuple[Whole, Whole]:
    allowed = locks.allowed(space)
    dials = np.flatnonzero(allowed.any(axis=(0, 2)))
    hours = np.flatnonzero(allowed.any(axis=(0, 1)))
    _, d, t = space.nearest(chosen)
    most = max(MOST_SETTINGS // len(dials), FEWEST_HOURS)
    hours = _thinned(hours, most, t)
    return _thinned(dials, max(MOST_SETTINGS // len(hours), 2), d), hours


@dataclass(frozen=True, eq=False)
class _Tables:
    """What every setting looked at gives in every row; settings as dial and hours in pairs.

    ``dial``, ``hours`` have shape (settings,), the others (rows, settings); ``energy`` and ``off``,
    how far the DLI is from the band's middle, are shares.
    """

    dial: Whole
    hours: Whole
    mean: Array
    peak: Array
    evenness: Array
    dli: Array
    energy: Array
    off: Array


@dataclass(frozen=True)
class Asked:
    """A stage to find trips for, and what the grower set of it."""

    problem: StageProblem
    ready: Bench
    kept: Setting | None = None

    @property
    def locks(self) -> Locks:
        """The levers that stay: those that are locked, or all that are kept."""
        kept = self.kept
        if kept is None:
            return self.problem.locks
        return Locks(kept.height_cm, kept.dial_pct, kept.hours)

    @cached_property
    def tables(self) -> _Tables:
        """What every setting gives, worked out once."""
        ready, target = self.ready, self.problem.target
        space = ready.space
        dials, hours = _positions(space, self.locks, self.kept or ready.solution.setting)
        d, t = (np.array(way, dtype=np.int64) for way in zip(*product(dials, hours)))
        dli = space.day_dli(np.arange(space.shape[0])[:, None], d, space.hours[t])
        kwh = space.watts[d] * space.full_hours[t] / 1000
        return _Tables(
            dial=d,
            hours=t,
            mean=space.mean[:, d],
            peak=space.peak[:, d],
            evenness=space.evenness[:, d],
            dli=dli,
            energy=np.broadcast_to(kwh / max(float(kwh.max()), 1e-9), dli.shape),
            off=np.minimum(np.abs(dli / target.dli_middle - 1), 1.0),
        )


def _costs(asked: Asked, good: Mask) -> Array:
    """Return what a day costs by the aim, where it is good; shape (rows, settings).

    The aim decides, then the band's middle and the energy together.
    """
    problem, tables = asked.problem, asked.tables
    match problem.aim:
        case "energy":
            return tables.energy + TIE * tables.off
        case "even":
            return 1 - tables.evenness + TIE * tables.off
        case "gentle":
            most = max(float(asked.ready.space.peak.max()), 1e-9)
            return tables.peak / most + TIE * tables.off
        case "likely":
            missing = np.ones(good.shape)
            rows, columns = np.nonzero(good)
            cells = rows, tables.dial[columns], tables.hours[columns]
            ignored = ("hot_spot_cap",) if problem.over_cap else ()
            likely = likely_at(asked.ready.space, problem.target, cells, ignored)
            missing[good] = 1 - likely
            return missing + TIE * (tables.off + TIE * tables.energy)
        case _:
            return tables.off + TIE * tables.energy


def stage_days(asked: Asked, strict: Strictness) -> Paced:
    """Return a stage's tables; it begins at what is kept, and dial and hours then stay."""
    problem, tables = asked.problem, asked.tables
    space, step = asked.ready.space, problem.reach.step_cm
    tops = problem.tops_in_steps()
    base = int(tops[0]) + problem.lowest_step
    places = min(max(problem.highest_step - base + 1, 1), len(space.heights_cm))
    hung, least_move = None, max(ceil(strict.pace.lift_cm / step - 1e-6), 1)
    if problem.fixed:
        hung, least_move = places - 1, places
    elif asked.locks.height_cm is not None:
        hung = int(np.abs(space.heights_cm - asked.locks.height_cm).argmin())
        hung = min(hung, places - 1)
    at = Extremes(tables.mean, tables.mean, tables.peak, tables.evenness, tables.dli, tables.dli)
    good = np.ones(tables.dli.shape, bool)
    counting = set(asked.ready.masks) - set(strict.ignored)
    for name, holds in held(strict.target, at).items():
        if name in counting:
            good &= holds
    if counting:
        good &= _rows(problem, space, hung)[:, None]
    cost = _costs(asked, good)
    if strict.margin and good.any():
        good &= 1 - cost >= strict.margin * (1 - cost[good].min())
    d, t, dli = tables.dial, tables.hours, tables.dli
    useful = good.any(axis=0)
    if useful.any() and hung is None:
        d, t = d[useful], t[useful]
        good, cost, dli = good[:, useful], cost[:, useful], dli[:, useful]
    days = StageDays(
        base=base,
        places=places,
        rise=tops - tops[0],
        good=np.ascontiguousarray(good),
        cost=np.ascontiguousarray(cost),
        dli=np.ascontiguousarray(dli),
        dial_pct=space.dials_pct[d],
        hours=space.hours[t],
        least_move=least_move,
        gap=max(strict.pace.gap_days, 1),
        hung=hung,
        rehang_cost=A_MOVE if problem.visits.sparing else 0.0,
        before_dli=problem.visits.before_dli,
        after_dli=problem.visits.after_dli,
    )
    return Paced(days, d, t, tops, strict)


def freed(asked: Asked, strict: Strictness, found: Paced) -> Iterator[tuple[str, Paced]]:
    """Yield the targets that count, and the tables without each, where there is more in them.

    A setting that misses a target as computed keeps it in no more than every second tent: where
    days keep a better chance than that, no such setting is let in.
    """
    best = 1 - float(found.days.cost[found.days.good].min(initial=1.0))
    if strict.margin * best > EVEN_CHANCE:
        return
    for name in asked.ready.masks:
        if name not in strict.ignored:
            more = stage_days(asked, replace(strict, ignored=(*strict.ignored, name)))
            if np.count_nonzero(more.days.good) > np.count_nonzero(found.days.good):
                yield name, more


EVEN_CHANCE = 0.5


def _rows(problem: StageProblem, space: LeverSpace, hung: int | None) -> Mask:
    """Return at which heights above the tops the lamp may be at all, shape (rows,)."""
    inside = problem.reach.inside(space.heights_cm)
    lasting = space.heights_cm <= problem.highest_cm + 1e-9
    if not (inside & lasting).any() or (hung is not None and not inside[hung]):
        return np.ones(len(inside), bool)
    return inside


def stage_tables(asked: Asked) -> Iterator[Paced]:
    """Yield a stage's tables, the strictest first; the last ones always have a way through.

    First the margin goes that the likeliest aim keeps, then trips come closer, then the targets go:
    those the stage's best setting misses may be missed by a little more than it does, then all but
    the cap do not count, then nothing does.
    """
    problem, ready = asked.problem, asked.ready
    space, target = ready.space, problem.target
    pace = Pace(problem.visits.lift_cm, problem.visits.gap_days)
    at = space.nearest(asked.kept or ready.solution.setting)
    given_up = ("hot_spot_cap",) if problem.over_cap else ()
    missed = tuple(
        name
        for name, mask in ready.masks.items()
        if not np.broadcast_to(mask, space.shape)[at] and name not in given_up
    )
    least = Strictness(let_go(target, space.outcome(at), missed), pace, given_up)
    if problem.aim == "likely" and asked.kept is None:
        yield stage_days(asked, replace(least, margin=MARGIN))
    names = tuple(ready.masks)
    soft = tuple(name for name in names if name != "hot_spot_cap")
    for strict in (least, replace(least, ignored=(*given_up, *soft))):
        for slower in pace.eased():
            yield stage_days(asked, replace(strict, pace=slower))
    nothing = Strictness(target, pace, names)
    for slower in pace.eased():
        yield stage_days(asked, replace(nothing, pace=slower))
    # nowhere to hang on some day: the first day's answer stands for all
    growth = Growth(problem.growth.tops_cm, 0.0, problem.growth.days)
    still = replace(asked, problem=replace(problem, growth=growth))
    yield stage_days(still, nothing)
