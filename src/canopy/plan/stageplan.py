"""What the plan chooses for a stage from its first day to its last, and why.

Of all ways through the stage that keep its targets on every day: the fewest trips to the tent, a
stage's beginning and days of easing counted; then the best by the aim. Bench, season and ranking
all ask this one.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from canopy.once import once
from canopy.plan.bench import Bench, bench
from canopy.plan.certainty import Extremes, chances, missed_by
from canopy.plan.doubts import Doubts, after_reading
from canopy.plan.levers import Outcome, Setting
from canopy.plan.problem import StageProblem
from canopy.plan.solver import Index, Solution, ends_of_travel
from canopy.plan.stagedays import Asked, freed, stage_tables
from canopy.plan.trips import Pace, Way, fewest_trips, would_gain

Whole = NDArray[np.int64]

KEPT = 24
KEPT_TOGETHER = 4


@dataclass(frozen=True)
class Hanging:
    """A time during which the lamp hangs still, days of the stage from 0, the last one included.

    Above the floor, above the tops on its first day, and what is left of that on its last.
    ``by_cm`` is how much higher it hangs than just before; 0 where it did not hang before.
    """

    day: int
    last_day: int
    above_floor_cm: float
    above_tops_cm: float
    left_cm: float
    by_cm: float
    dial_pct: float


@dataclass(frozen=True, eq=False)
class StageChoice:
    """A stage's plan.

    Parameters
    ----------
    problem, ready : StageProblem, Bench
    index, setting, outcome : tuple of int, Setting, Outcome
        The first day's.
    solution : Solution
        With what is missed on some day, and what decides the plan; its obstacles are those of the
        best single day.
    hangings : tuple of Hanging
    rows, dials, tops : array of int, shape (days,)
        Every day's height and dial as indices, and the tops above the floor in steps.
    pace : Pace
        What its trips keep.
    chance, chance_read : float
        How likely all targets hold on all days, and how likely with readings that agree.
    """

    problem: StageProblem
    ready: Bench
    index: Index
    setting: Setting
    outcome: Outcome
    solution: Solution
    hangings: tuple[Hanging, ...]
    rows: Whole
    dials: Whole
    tops: Whole
    pace: Pace
    chance: float
    chance_read: float

    @property
    def hurried(self) -> bool:
        """Whether trips come closer than was asked, because nothing else keeps the targets."""
        asked = self.problem.visits
        return self.pace.lift_cm < asked.lift_cm or self.pace.gap_days < asked.gap_days

    @property
    def lamp_cm(self) -> NDArray[np.float64]:
        """Where the lamp hangs above the floor on every day, shape (days,)."""
        return self.tops * self.problem.reach.step_cm + self.ready.space.heights_cm[self.rows]


def begun(problem: StageProblem, kept: Setting | None) -> Setting | None:
    """Return what a stage's levers begin at: what is kept, or what the whole of a cut one has.

    So a change from some day on moves nothing before that day.
    """
    if kept is not None or problem.whole is None:
        return kept
    return plan_stage(problem.whole).setting


@once(KEPT)
def plan_stage(problem: StageProblem, kept: Setting | None = None) -> StageChoice:
    """Return the plan of a stage by itself, or what becomes of it with what the grower set.

    Raises
    ------
    CanopyError
        As :func:`canopy.plan.bench.bench`.
    """
    asked = Asked(problem, bench(problem), begun(problem, kept))
    return _choice(fewest_trips([stage_tables(asked)], problem.visits.rise), 0, asked)


@once(KEPT_TOGETHER)
def plan_together(
    stages: tuple[tuple[StageProblem, Setting | None], ...],
) -> tuple[StageChoice, ...]:
    """Return the plans of stages in a row with the fewest trips, and moves, over all of them.

    Raises
    ------
    CanopyError
        As :func:`canopy.plan.bench.bench`.
    """
    asked = [Asked(each, bench(each), begun(each, kept)) for each, kept in stages]
    ways = fewest_trips([stage_tables(each) for each in asked], stages[0][0].visits.rise)
    return tuple(_choice(ways, k, each) for k, each in enumerate(asked))


def _choice(ways: list[Way], at: int, asked: Asked) -> StageChoice:
    problem, ready, way = asked.problem, asked.ready, ways[at]
    table, space = way.table, ready.space
    days, dials, place = len(table.tops), *(np.zeros(len(table.tops), np.int64) for _ in range(2))
    for hang in way.hangs:
        place[hang.day :] = hang.place
        dials[hang.day :] = table.dials[hang.setting]
    rows = np.clip(place - table.days.rise, 0, len(space.heights_cm) - 1)
    t = int(table.hours[way.hangs[0].setting])
    index = int(rows[0]), int(dials[0]), t
    dli = space.day_dli(rows, dials, float(space.hours[t]))
    extremes = Extremes(
        mean_least=float(space.mean[rows, dials].min()),
        mean_most=float(space.mean[rows, dials].max()),
        peak_most=float(space.peak[rows, dials].max()),
        evenness_least=float(space.evenness[rows, dials].min()),
        dli_least=float(dli.min()),
        dli_most=float(dli.max()),
    )
    ignored = ("hot_spot_cap",) if problem.over_cap else ()

    def chance(known: Doubts) -> float:
        doubt = known.at(index[0], index[1])
        return float(chances(problem.target, doubt, extremes, ignored))

    setting, outcome = space.setting(index), space.outcome(index)
    binding: tuple[str, ...] = ()
    if asked.kept is None:
        ends = ends_of_travel(space, problem.locks.allowed(space), index)
        binding = (*_binding(ways, at, asked), *ends)
    return StageChoice(
        problem=problem,
        ready=ready,
        index=index,
        setting=setting,
        outcome=outcome,
        solution=replace(
            ready.solution,
            setting=setting,
            outcome=outcome,
            relaxed=missed_by(problem.target, extremes),
            binding=binding,
        ),
        hangings=_hangings(way, problem.reach.step_cm, dials, ready, days),
        rows=rows,
        dials=dials,
        tops=table.tops,
        pace=table.strict.pace,
        chance=chance(space.doubt),
        chance_read=chance(after_reading(space.doubt)),
    )


def _hangings(
    way: Way, step_cm: float, dials: Whole, ready: Bench, days: int
) -> tuple[Hanging, ...]:
    tops, base, hangs = way.table.tops, way.table.days.base, way.hangs
    found: list[Hanging] = []
    for k, hang in enumerate(hangs):
        last = hangs[k + 1].day - 1 if k + 1 < len(hangs) else days - 1
        floor = (base + hang.place) * step_cm
        found.append(
            Hanging(
                day=hang.day,
                last_day=last,
                above_floor_cm=float(floor),
                above_tops_cm=float(floor - tops[hang.day] * step_cm),
                left_cm=float(floor - tops[last] * step_cm),
                by_cm=float(floor - found[-1].above_floor_cm) if found else 0.0,
                dial_pct=float(ready.space.dials_pct[dials[hang.day]]),
            )
        )
    return tuple(found)


def _binding(ways: list[Way], at: int, asked: Asked) -> tuple[str, ...]:
    """Return the targets without which a stage would go another way, worth more."""
    table, rise = ways[at].table, asked.problem.visits.rise
    return tuple(
        name
        for name, more in freed(asked, table.strict, table)
        if would_gain(ways, at, more.days, rise)
    )
