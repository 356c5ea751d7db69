"""A whole run, stage after stage: settings, trips to the tent, easing, and every single day.

Days count from 0 at the run's start. Heights in cm, PPFD in umol m-2 s-1, DLI in mol m-2 d-1.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from canopy.crop.photoperiod import off_minute
from canopy.daylight.lampday import Window, windows_words
from canopy.errors import CanopyError
from canopy.parallel import at_once
from canopy.plan.bench import bench
from canopy.plan.easing import Easing, easing, photoperiod_steps
from canopy.plan.levers import Setting
from canopy.plan.problem import HungLamp, StageProblem
from canopy.plan.stageplan import Hanging, StageChoice, plan_stage, plan_together
from canopy.power.energy import tier_costs
from canopy.power.tariff import Tariff, best_start, cost_of_day, mean_of
from canopy.words import Said, said

Prices = Callable[[int], Tariff]
"""What power costs on a day of a run, counted from 0."""


def always(tariff: Tariff) -> Prices:
    """Return prices that are the same every day."""
    return lambda _: tariff


@dataclass(frozen=True)
class StageOrder:
    """One stage to plan.

    Parameters
    ----------
    name : str
    problem : StageProblem
        Its growth says how long it lasts.
    kept : Setting, optional
        Levers the grower has set; the plan's choice without them.
    on_minute : int, optional
        When the lamp comes on; chosen by the wish without it.
    goes_on : bool
        Whether it is what follows a dated change within the stage before.
    """

    name: str
    problem: StageProblem
    kept: Setting | None = None
    on_minute: int | None = None
    goes_on: bool = False

    @property
    def days(self) -> int:
        """How long it lasts."""
        return self.problem.growth.days


@dataclass(frozen=True)
class Course:
    """A stage day by day: tuples of one value a day, lamp and tops above the floor.

    ``trips`` are the days on which somebody has to go to the tent, ``easing`` those of the first
    days' dial steps.
    """

    hangings: tuple[Hanging, ...]
    trips: tuple[int, ...]
    easing: Easing
    dli: tuple[float, ...]
    dial_pct: tuple[float, ...]
    hours: tuple[float, ...]
    lamp_cm: tuple[float, ...]
    tops_cm: tuple[float, ...]
    watts: tuple[float, ...]

    @property
    def lifts(self) -> tuple[Hanging, ...]:
        """The days within the stage on which the lamp goes to another height."""
        return tuple(h for h in self.hangings if h.day and h.by_cm)


@dataclass(frozen=True)
class StagePlan:
    """A planned stage; without ``choice`` it cannot be and ``refused`` says why."""

    order: StageOrder
    first_day: int
    refused: Said | None
    choice: StageChoice | None = None
    on_minute: int = 0
    course: Course | None = None

    def windows(self, photoperiod_h: float) -> tuple[Window, ...]:
        """Return when the lamp is on for so many hours."""
        return replace(self.order.problem.losses.day, on_minute=self.on_minute).windows(
            photoperiod_h
        )

    @property
    def last_day(self) -> int:
        """The stage's last day."""
        return self.first_day + self.order.days - 1


def _course(
    order: StageOrder, choice: StageChoice, before: Course | None, shift_days: int
) -> Course:
    """Return a stage day by day as it is chosen, eased in from the one before."""
    space, step, days = choice.ready.space, order.problem.reach.step_cm, order.days
    dials, rows = choice.dials.copy(), choice.rows.copy()
    hour = choice.index[2]
    was_dli = before.dli[-1] if before else 0.0
    ease = easing(space, choice.index, was_dli, order.problem.visits.rise)
    for eased in ease.steps[:days]:
        dials[eased.day] = int(np.abs(space.dials_pct - eased.dial_pct).argmin())
        lifted = int(np.abs(space.heights_cm - eased.height_cm).argmin())
        if lifted > choice.index[0]:
            rows[eased.day] = lifted
    lamp_cm = choice.tops * step + space.heights_cm[rows]
    hours = np.full(days, float(space.hours[hour]))
    shift = photoperiod_steps(
        before.hours[-1] if before else float(hours[-1]),
        float(hours[-1]),
        shift_days,
        order.problem.timer_step_min,
        order.problem.target.response == "short-day",
    )
    hours[: len(shift)] = shift[:days]
    was = (before.lamp_cm[-1], before.dial_pct[-1], before.hours[-1]) if before else None
    levers = list(
        zip(np.round(lamp_cm, 6).tolist(), space.dials_pct[dials].tolist(), hours.tolist())
    )
    first = choice.hangings[0]
    by_cm = first.above_floor_cm - before.lamp_cm[-1] if before else 0.0
    return Course(
        hangings=(replace(first, by_cm=by_cm), *choice.hangings[1:]),
        trips=tuple(
            day for day, now in enumerate(levers) if now != (levers[day - 1] if day else was)
        ),
        easing=ease,
        dli=tuple(space.day_dli(rows, dials, hours).tolist()),
        dial_pct=tuple(dial for _, dial, _ in levers),
        hours=tuple(hours.tolist()),
        lamp_cm=tuple(lamp for lamp, _, _ in levers),
        tops_cm=tuple(np.round(choice.tops * step, 6).tolist()),
        watts=tuple(space.watts[dials].tolist()),
    )


def plan_season(
    orders: list[StageOrder],
    prices: Prices,
    wish: str = "fixed",
    on_minute: int = 360,
    shift_days: int = 1,
) -> list[StagePlan]:
    """Return the plan of a run, one entry a stage: the fewest trips, then the best by the aim.

    Where moves are to be few the stages are planned together, else each by itself.

    Parameters
    ----------
    orders : list of StageOrder
        In their order.
    prices : callable
        See :data:`Prices`.
    wish : {'fixed', 'cheap', 'cool'}
        When the lamp comes on where the grower has not said; by a stage's mean prices.
    on_minute : int
        Where the grower's clock stands, for 'fixed' and for ties.
    shift_days : int
        Over how many days the hours change from stage to stage; to short days always at once.
    """
    plans: list[StagePlan] = []
    first, before = 0, None
    for order, found in zip(orders, choices(orders)):
        if isinstance(found, Said):
            plans.append(StagePlan(order, first, found))
        else:
            course = _course(order, found, before, shift_days)
            on = order.on_minute
            if on is None:
                days = [prices(day) for day in range(first, first + order.days)]
                on = _start(order, days, course.hours[-1], wish, on_minute)
            plan = StagePlan(order, first, None, found, on, course)
            if before is not None:
                plan = _counted(plan, next(p for p in reversed(plans) if p.course is before))
            plans.append(plan)
            before = plan.course
        first += order.days
    return plans


def _counted(plan: StagePlan, before: StagePlan) -> StagePlan:
    """Return a plan with its first day a trip where only the timer is set to another time."""
    course, was = plan.course, before.course
    assert course is not None
    assert was is not None
    same = plan.windows(course.hours[0]) == before.windows(was.hours[-1])
    if same or 0 in course.trips:
        return plan
    return replace(plan, course=replace(course, trips=(0, *course.trips)))


def _start(
    order: StageOrder, days: Sequence[Tariff], photoperiod_h: float, wish: str, on_minute: int
) -> int:
    """Return when the lamp comes on by a wish, where the crop keeps its day and its night."""
    day, tariff = order.problem.losses.day, mean_of(days)
    if day.sun is None:
        # the dark is as long whenever it begins
        return best_start(tariff, photoperiod_h, order.problem.timer_step_min, wish, on_minute)

    def allowed(start: int) -> bool:
        return replace(day, on_minute=start).fits(photoperiod_h)

    step = order.problem.timer_step_min
    return best_start(tariff, photoperiod_h, step, wish, on_minute, allowed)


def _alone(order: StageOrder) -> StageChoice | Said | None:
    """Return what is chosen for a stage by itself, or why it cannot be.

    Nothing for one that is planned with others, but its light is prepared.
    """
    try:
        if order.problem.visits.sparing:
            bench(order.problem)
            return None
        return plan_stage(order.problem, order.kept)
    except CanopyError as error:
        return error.said


def choices(orders: Sequence[StageOrder]) -> list[StageChoice | Said]:
    """Return what is chosen for every stage, or why it cannot be."""
    found = at_once(_alone, orders)
    together = [k for k, each in enumerate(found) if each is None]
    if together:
        chosen = plan_together(tuple((orders[k].problem, orders[k].kept) for k in together))
        for k, choice in zip(together, chosen):
            found[k] = choice
    return [each for each in found if each is not None]


@dataclass(frozen=True)
class DayRow:
    """One day of a run; light and levers empty where the stage cannot be.

    ``dli`` is what reaches the tops; heights above the floor. Minutes are the timer's;
    ``ahead_min`` is how much the wall clock is ahead of it.
    """

    day: int
    stage: str
    windows: tuple[Window, ...]
    hours: float
    dial_pct: float
    watts: float
    lamp_cm: float
    tops_cm: float
    dli: float
    dli_low: float
    dli_high: float
    kwh: float
    cost: float
    tasks: tuple[Said, ...]
    ahead_min: int = 0

    @property
    def on_minute(self) -> int:
        """When the lamp comes on, the first time."""
        return self.windows[0].on_minute

    @property
    def off_minute(self) -> int:
        """When it goes off, the last time."""
        return off_minute(self.windows[-1].on_minute, self.windows[-1].hours)


def day_rows(
    plans: list[StagePlan], prices: Prices, ahead_min: Callable[[int], int] = lambda _: 0
) -> list[DayRow]:
    """Return the day table of a planned run; stages that cannot be are left out.

    Minutes are the timer's; ``ahead_min`` says by how much the wall clock, which prices go by, is
    ahead of it on a day.
    """
    rows: list[DayRow] = []
    before: StageProblem | None = None
    for plan in plans:
        course = plan.course
        if course is None:
            continue
        problem = plan.order.problem
        target = problem.target
        for day in range(plan.order.days):
            hours = course.hours[day]
            ahead = ahead_min(plan.first_day + day)
            windows, tariff = plan.windows(hours), prices(plan.first_day + day)
            # a stage that begins is told in whole; what changes within it, by itself
            goes_on = rows and (day or plan.order.goes_on)
            tasks = _changes(plan, rows[-1], day, windows) if goes_on else _begins(plan)
            if day == 0:
                tasks += (*_groups(problem, before), *_switches(problem, before))
                before = problem
            kwh = course.watts[day] * float(problem.losses.full_h(hours)) / 1000
            rows.append(
                DayRow(
                    day=plan.first_day + day,
                    stage=plan.order.name,
                    windows=windows,
                    hours=hours,
                    dial_pct=course.dial_pct[day],
                    watts=course.watts[day],
                    lamp_cm=course.lamp_cm[day],
                    tops_cm=course.tops_cm[day],
                    dli=course.dli[day],
                    dli_low=target.dli_low,
                    dli_high=target.dli_high,
                    kwh=kwh + sum(problem.apart_kwh(hung) for hung in problem.apart),
                    cost=cost_in(tariff, windows, kwh, ahead) + apart_cost(problem, tariff, ahead),
                    ahead_min=ahead,
                    tasks=tasks,
                )
            )
    return rows


def with_tiers(
    rows: Sequence[DayRow], tariff: Tariff, first: date, other_kwh_a_day: float = 0.0
) -> list[DayRow]:
    """Return day rows of a run begun on a date with what a month's tiers add to their costs."""
    days = [first + timedelta(days=row.day) for row in rows]
    added = tier_costs(tariff, days, [row.kwh for row in rows], other_kwh_a_day)
    return [replace(row, cost=row.cost + float(more)) for row, more in zip(rows, added)]


def cost_in(tariff: Tariff, windows: tuple[Window, ...], kwh: float, ahead_min: int = 0) -> float:
    """Return what a day's energy costs, drawn evenly in windows by a timer.

    ``ahead_min`` is how much the clock that prices go by is ahead of the timer.
    """
    hours = sum(window.hours for window in windows)
    return sum(
        cost_of_day(tariff, w.on_minute + ahead_min, w.hours, kwh * w.hours / hours)
        for w in windows
    )


def apart_cost(problem: StageProblem, tariff: Tariff, ahead_min: int = 0) -> float:
    """Return what lamps on a timer of their own cost a day."""
    return sum(
        cost_in(tariff, hung.own_windows, problem.apart_kwh(hung), ahead_min)
        for hung in problem.apart
    )


def _begins(plan: StagePlan) -> tuple[Said, ...]:
    """Return how a stage begins: where the lamp hangs, and what its dial is set by."""
    course, name = plan.course, plan.order.name
    assert course is not None
    lamp, watts = course.lamp_cm[0], course.watts[0]
    where = {"lamp_cm": lamp, "height_cm": lamp - course.tops_cm[0]}
    match plan.order.problem.dimmer.kind:
        case "none":
            return (said("season.begins_full", stage=name, **where),)
        case "unmarked":
            return (said("season.begins_meter", stage=name, watts=watts, **where),)
        case _:
            dial = {"dial_pct": course.dial_pct[0], "watts": watts}
            return (said("season.begins", stage=name, **where, **dial),)


def group_letter(group: int) -> str:
    """Return what a group of lamps is called; A is the rail's own.

    >>> group_letter(1)
    'B'
    """
    return chr(ord("A") + group)


def _groups(problem: StageProblem, before: StageProblem | None) -> tuple[Said, ...]:
    """Return what there is to do with groups of lamps as a stage, or a part of one, begins."""
    were = {} if before is None else before.group_lamps()
    tasks, now = [], problem.group_lamps()
    for group in sorted({*were, *now}):
        letter, hung = group_letter(group), now.get(group)
        if hung is None:
            tasks.append(said("season.group_back", letter=letter))
        elif not _set_alike(hung, were.get(group)):
            watts, windows = sum(lamp.own_watts for lamp in hung), hung[0].own_windows
            if not any(lamp.own_light for lamp in hung):
                tasks.append(said("season.group_off", letter=letter))
            elif windows:
                times = windows_words(windows)
                tasks.append(said("season.group_timer", letter=letter, watts=watts, times=times))
            else:
                tasks.append(said("season.group", letter=letter, watts=watts))
    return tuple(tasks)


def _switches(problem: StageProblem, before: StageProblem | None) -> tuple[Said, ...]:
    """Return which of the lamp's switches are to be set as a stage, or a part of one, begins."""
    were = {each.name: each.dial_pct for each in before.switches} if before else {}
    tasks = []
    for each in problem.switches:
        at = each.dial_pct
        if at == were.get(each.name):
            continue
        if at == 0:
            tasks.append(said("season.switch_off", name=each.name))
        elif at is None and each.dimmed:
            tasks.append(said("season.switch_with", name=each.name))
        elif at is None or not each.dimmed:
            tasks.append(said("season.switch_on", name=each.name))
        else:
            tasks.append(said("season.switch_dial", name=each.name, dial_pct=at))
    return tuple(tasks)


def _set_alike(hung: tuple[HungLamp, ...], were: tuple[HungLamp, ...] | None) -> bool:
    """Return whether a group's lamps are set as they were."""

    def setting(lamps: tuple[HungLamp, ...]) -> list[tuple[float | None, tuple[Window, ...]]]:
        return [(lamp.own_light, lamp.own_windows) for lamp in lamps]

    return were is not None and setting(hung) == setting(were)


def _changes(
    plan: StagePlan, before: DayRow, day: int, windows: tuple[Window, ...]
) -> tuple[Said, ...]:
    """Return what there is to do on a day of a stage, a line for each thing set otherwise."""
    course = plan.course
    assert course is not None
    lamp, watts, tasks = course.lamp_cm[day], course.watts[day], []
    by = lamp - before.lamp_cm
    if by:
        tasks.append(
            said(
                "season.raise" if by > 0 else "season.lower",
                by_cm=abs(by),
                lamp_cm=lamp,
                height_cm=lamp - course.tops_cm[day],
            )
        )
    if course.dial_pct[day] != before.dial_pct:
        tasks.append(
            said("season.meter", watts=watts)
            if plan.order.problem.dimmer.kind == "unmarked"
            else said("season.dial", dial_pct=course.dial_pct[day], watts=watts)
        )
    if course.hours[day] != before.hours:
        tasks.append(said("season.hours", hours=course.hours[day]))
    elif windows != before.windows:
        tasks.append(said("season.timer", times=windows_words(windows)))
    return tuple(tasks)
