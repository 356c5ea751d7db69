"""A whole run, stage after stage: settings, re-hang days, easing, and every single day.

Days count from 0 at the run's start. Heights in cm, PPFD in umol m-2 s-1, DLI in mol m-2 d-1.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import ceil

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.plan.bench import bench
from canopy.plan.easing import RISE_A_DAY, Easing, easing, photoperiod_steps
from canopy.plan.levers import LeverSpace, Outcome, Setting
from canopy.plan.problem import StageProblem
from canopy.plan.solver import Solution, target_masks
from canopy.power.tariff import Tariff, best_start, cost_of_day
from canopy.words import Said, said

Array = NDArray[np.float64]

LEAST_LIFT_CM = 1.0
"""Re-hangs closer together than this are not asked of anybody: the lamp is hung higher instead."""


@dataclass(frozen=True)
class StageOrder:
    """One stage to plan.

    Parameters
    ----------
    name : str
    days : int
    problem : StageProblem
        For the stage's end, when the headroom is least.
    pot_cm, plant_start_cm, plant_end_cm : float
        The plants rise evenly from start to end.
    kept : Setting, optional
        Levers the grower has set; the plan's choice without them.
    on_minute : int, optional
        When the lamp comes on; chosen by the wish without it.
    """

    name: str
    days: int
    problem: StageProblem
    pot_cm: float
    plant_start_cm: float
    plant_end_cm: float
    kept: Setting | None = None
    on_minute: int | None = None


@dataclass(frozen=True)
class Lift:
    """A day on which the lamp goes up, and to what height above the floor."""

    day: int
    above_floor_cm: float
    by_cm: float


@dataclass(frozen=True)
class Course:
    """A stage day by day: tuples of one value a day, lamp and tops above the floor."""

    lifts: tuple[Lift, ...]
    easing: Easing
    dli: tuple[float, ...]
    dial_pct: tuple[float, ...]
    hours: tuple[float, ...]
    lamp_cm: tuple[float, ...]
    tops_cm: tuple[float, ...]
    watts: tuple[float, ...]


@dataclass(frozen=True)
class StagePlan:
    """A planned stage; without ``solution`` it cannot be and ``refused`` says why."""

    order: StageOrder
    first_day: int
    refused: Said | None
    solution: Solution | None = None
    setting: Setting | None = None
    outcome: Outcome | None = None
    on_minute: int = 0
    course: Course | None = None

    @property
    def last_day(self) -> int:
        """The stage's last day."""
        return self.first_day + self.order.days - 1


def tops_cm(order: StageOrder) -> Array:
    """Return the tops' height above the floor on every day of a stage, shape (days,)."""
    share = (np.arange(order.days) + 0.5) / order.days
    rise = order.plant_end_cm - order.plant_start_cm
    return np.asarray(order.pot_cm + order.plant_start_cm + share * rise)


def lamp_course(order: StageOrder, setting: Setting, safe_cm: float) -> tuple[Array, list[Lift]]:
    """Return the lamp's face above the floor day by day, and the days it goes up.

    It hangs at the setting's height above the tops and stays until they have come as near as is
    safe; then it goes up to the setting's height again.
    """
    tops = tops_cm(order)
    slack = max(setting.height_cm - safe_cm, LEAST_LIFT_CM)
    course = np.empty(order.days)
    at = order.pot_cm + order.plant_start_cm + setting.height_cm
    most = order.pot_cm + order.plant_end_cm + setting.height_cm
    lifts = []
    for day, top in enumerate(tops):
        if at - top < setting.height_cm - slack - 1e-9:
            up = min(top + setting.height_cm, most)
            lifts.append(Lift(day, float(up), float(up - at)))
            at = up
        course[day] = at
    return course, lifts


def _course(
    space: LeverSpace,
    order: StageOrder,
    index: tuple[int, int, int],
    ease: Easing,
    shift: tuple[float, ...],
) -> Course:
    d = index[1]
    setting, cap = space.setting(index), order.problem.target.hot_spot_cap
    safe_cm = float(space.heights_cm[space.lowest_safe(cap, d, index[0])])
    lamp, lifts = lamp_course(order, setting, safe_cm)
    tops = tops_cm(order)
    dial = np.full(order.days, d)
    for step in ease.steps[: order.days]:
        dial[step.day] = int(np.abs(space.dials_pct - step.dial_pct).argmin())
        if step.height_cm > setting.height_cm:
            lamp[step.day] = tops[step.day] + step.height_cm
    away = np.clip(lamp - tops, space.heights_cm[0], space.heights_cm[-1])
    mean = np.array([np.interp(a, space.heights_cm, space.mean[:, k]) for a, k in zip(away, dial)])
    hours = np.full(order.days, setting.hours)
    hours[: len(shift)] = shift[: order.days]
    dli = space.lamp_dli(mean, hours) + space.daylight_dli
    return Course(
        lifts=tuple(lifts),
        easing=ease,
        dli=tuple(float(v) for v in dli),
        dial_pct=tuple(float(space.dials_pct[k]) for k in dial),
        hours=tuple(float(v) for v in hours),
        lamp_cm=tuple(float(v) for v in lamp),
        tops_cm=tuple(float(v) for v in tops),
        watts=tuple(float(space.watts[k]) for k in dial),
    )


def common_height_cm(orders: list[StageOrder]) -> float | None:
    """Return one height that meets every stage's targets, ``None`` when there is none.

    Of several the one whose stages come nearest the middle of their DLI bands.
    """
    fits: dict[float, float] = {}
    for k, order in enumerate(orders):
        ready = bench(order.problem)
        target, space = order.problem.target, ready.space
        works = np.ones(space.shape, bool)
        for mask in target_masks(space, target).values():
            works &= mask
        off = np.where(works, np.abs(space.dli() / target.dli_middle - 1), np.inf).min(axis=(1, 2))
        here = {float(h): float(o) for h, o in zip(space.heights_cm, off) if np.isfinite(o)}
        fits = here if k == 0 else {h: fits[h] + here[h] for h in fits.keys() & here.keys()}
    return min(fits, key=lambda h: (round(fits[h], 2), h)) if fits else None


def plan_season(
    orders: list[StageOrder],
    tariff: Tariff,
    wish: str = "fixed",
    rise: float = RISE_A_DAY,
    fewest_moves: bool = False,
    on_minute: int = 360,
    shift_days: int = 1,
) -> list[StagePlan]:
    """Return the plan of a run, one entry a stage.

    Parameters
    ----------
    orders : list of StageOrder
        In their order.
    tariff : Tariff
    wish : {'fixed', 'cheap', 'cool'}
        When the lamp comes on where the grower has not said.
    rise : float
        Most a day's light may rise from one day to the next.
    fewest_moves : bool
        One height for the whole run if one can work.
    on_minute : int
        Where the grower's clock stands, for 'fixed' and for ties.
    shift_days : int
        Over how many days the hours change from stage to stage; to short days always at once.
    """
    locked = None
    if fewest_moves:
        try:
            locked = common_height_cm(orders)
        except CanopyError:
            locked = None
    plans: list[StagePlan] = []
    first, before = 0, 0.0
    hours_before: float | None = None
    for order in orders:
        problem = order.problem
        if locked is not None and problem.locks.height_cm is None:
            locks = replace(problem.locks, height_cm=locked)
            problem = replace(problem, locks=locks)
        try:
            ready = bench(problem)
        except CanopyError as error:
            plans.append(StagePlan(order, first, error.said))
            first += order.days
            continue
        index = ready.space.nearest(order.kept or ready.solution.setting)
        setting = ready.space.setting(index)
        on = order.on_minute
        if on is None:
            on = best_start(tariff, setting.hours, problem.timer_step_min, wish, on_minute)
        ease = easing(ready.space, index, before, rise)
        shift = photoperiod_steps(
            setting.hours if hours_before is None else hours_before,
            setting.hours,
            shift_days,
            problem.timer_step_min,
            problem.target.response == "short-day",
        )
        course = _course(ready.space, order, index, ease, shift)
        outcome = ready.space.outcome(index)
        plans.append(StagePlan(order, first, None, ready.solution, setting, outcome, on, course))
        before, hours_before = course.dli[-1], setting.hours
        first += order.days
    return plans


@dataclass(frozen=True)
class DayRow:
    """One day of a run; light and levers empty where the stage cannot be.

    ``dli`` is what reaches the tops; heights above the floor. Minutes are the timer's;
    ``ahead_min`` is how much the wall clock is ahead of it.
    """

    day: int
    stage: str
    on_minute: int
    off_minute: int
    hours: float
    dial_pct: float
    lamp_cm: float
    tops_cm: float
    dli: float
    dli_low: float
    dli_high: float
    kwh: float
    cost: float
    tasks: tuple[Said, ...]
    ahead_min: int = 0


def day_rows(
    plans: list[StagePlan], tariff: Tariff, ahead_min: Callable[[int], int] = lambda _: 0
) -> list[DayRow]:
    """Return the day table of a planned run; stages that cannot be are left out.

    Minutes are the timer's; ``ahead_min`` says by how much the wall clock, which prices go by, is
    ahead of it on a day.
    """
    rows = []
    for plan in plans:
        course = plan.course
        if plan.setting is None or course is None:
            continue
        target = plan.order.problem.target
        raised = {r.day: r for r in course.lifts}
        eased = {step.day for step in course.easing.steps}
        for day in range(plan.order.days):
            tasks = []
            if day == 0:
                height = plan.setting.height_cm
                tasks.append(said("season.begins", stage=plan.order.name, height_cm=height))
            if day in raised:
                tasks.append(said("season.raise", by_cm=ceil(raised[day].by_cm - 0.05)))
            if day in eased or (day == len(eased) and eased):
                tasks.append(said("season.dial", dial_pct=course.dial_pct[day]))
            hours = course.hours[day]
            ahead = ahead_min(plan.first_day + day)
            if day and hours != course.hours[day - 1]:
                tasks.append(said("season.hours", hours=hours))
            kwh = course.watts[day] * float(plan.order.problem.losses.full_h(hours)) / 1000
            rows.append(
                DayRow(
                    day=plan.first_day + day,
                    stage=plan.order.name,
                    on_minute=plan.on_minute,
                    off_minute=int(plan.on_minute + round(hours * 60)) % 1440,
                    hours=hours,
                    dial_pct=course.dial_pct[day],
                    lamp_cm=course.lamp_cm[day],
                    tops_cm=course.tops_cm[day],
                    dli=course.dli[day],
                    dli_low=target.dli_low,
                    dli_high=target.dli_high,
                    kwh=kwh,
                    cost=cost_of_day(tariff, plan.on_minute + ahead, hours, kwh),
                    ahead_min=ahead,
                    tasks=tuple(tasks),
                )
            )
    return rows
