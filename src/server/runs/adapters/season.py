"""A run's season and the schools' second opinions: rows to core values and back."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime

from canopy.crop.night import night_conflict
from canopy.crop.photoperiod import off_minute
from canopy.errors import CanopyError
from canopy.formats.calendar import season_calendar
from canopy.formats.daytable import day_table
from canopy.plan.advice import Obstacle
from canopy.plan.bench import bench
from canopy.plan.certainty import Certainty, certainty
from canopy.plan.easing import EasingStep
from canopy.plan.levers import Outcome, Setting
from canopy.plan.schools import Distance, Opinion, Practice, doubled, opinions
from canopy.plan.schools import SchoolName as SchoolName
from canopy.plan.season import DayRow, Lift, StageOrder, StagePlan, day_rows, plan_season
from canopy.power.tariff import TariffBand
from canopy.power.timer import TimerClock
from canopy.words import Said, worded
from server.common.words import unit_of
from server.crops.models import Stage
from server.runs.adapters.bench import (
    date_of,
    levers_of,
    locks_of,
    on_minute_of,
    problem_of,
    stage_daylight,
)
from server.runs.adapters.standing import MadeOf, Standing, made_of
from server.runs.models import Setting as SettingRow
from server.spaces.adapters import enclosure, tariff_of

REFLECTIVE = 0.5


Kept = Mapping[int, SettingRow]
"""What the grower set for stages, by their ids."""


@dataclass(frozen=True)
class Refused:
    """A stage that cannot be put to the core at all, and why."""

    stage: Stage
    why: Said


def _orders(run: Standing, kept: Kept) -> tuple[list[StageOrder], list[Refused]]:
    lamps = run.lamps
    orders, refused = [], []
    for stage in run.stages:
        row = kept.get(stage.pk)
        setting = None if row is None else levers_of(row)
        on = run.on_minute if row is None else on_minute_of(row)
        try:
            problem = problem_of(
                run, stage, lamps, on, locks_of(setting, row.locked if row else ())
            )
        except CanopyError as error:
            refused.append(Refused(stage, error.said))
            continue
        orders.append(
            StageOrder(
                name=stage.name,
                days=stage.days,
                problem=problem,
                pot_cm=run.space.pot_cm,
                plant_start_cm=stage.plant_start_cm,
                plant_end_cm=stage.plant_end_cm,
                kept=setting,
                on_minute=None if row is None else on,
            )
        )
    return orders, refused


@dataclass(frozen=True)
class PlannedStage:
    """What a stage is set to, and what that gives."""

    setting: Setting
    outcome: Outcome
    on_minute: int
    off_minute: int
    kept: bool
    relaxed: tuple[str, ...]
    binding: tuple[str, ...]
    obstacles: tuple[Obstacle, ...]
    certainty: Certainty
    rehangs: tuple[Lift, ...]
    easing: tuple[EasingStep, ...]
    abrupt: bool
    night_conflict: Said | None


@dataclass(frozen=True)
class SeasonStage:
    """A stage of the season; without ``planned`` it cannot be and ``refused`` says why."""

    stage_id: int
    name: str
    first_day: int
    days: int
    date: date
    refused: str
    dli_low: float
    dli_high: float
    hot_spot_cap: float
    response: str
    daylight_dli: float
    lost_h: float
    planned: PlannedStage | None


@dataclass(frozen=True)
class SeasonAnswer:
    """A run's whole season."""

    first: date
    days: int
    stages: list[SeasonStage]
    rows: list[DayRow]
    kwh: float
    cost: float
    common_height: bool
    price: list[TariffBand]
    ceiling_cm: float
    made_of: MadeOf


def season_of(run: Standing, kept: Kept) -> SeasonAnswer:
    """Return a run's plan, stage by stage and day by day.

    Raises
    ------
    CanopyError
        When no stage can be put to the core, with the first one's reason.
    """
    first = date_of(run, 0)
    orders, refused = _orders(run, kept)
    if refused:
        why = worded(refused[0].why, unit_of(run.owner))
        raise CanopyError(f"{refused[0].stage.name}: {why}", "stages")
    tariff = tariff_of(run.tariff)
    plans = plan_season(
        orders,
        tariff,
        wish=run.on_wish,
        rise=run.rise_pct / 100,
        fewest_moves=run.aim == "moves",
        on_minute=run.on_minute,
        shift_days=run.shift_days,
    )
    timer = TimerClock(run.owner.zone, first, run.space.follows_summer_time)
    rows = day_rows(plans, tariff, lambda day: timer.ahead_min(date_of(run, day)))
    heights = {plan.setting.height_cm for plan in plans if plan.setting is not None}
    return SeasonAnswer(
        first=first,
        days=sum(stage.days for stage in run.stages),
        stages=[_stage(run, stage, plan) for stage, plan in zip(run.stages, plans)],
        rows=rows,
        kwh=sum(row.kwh for row in rows),
        cost=sum(row.cost for row in rows),
        common_height=len(heights) == 1 and len(plans) > 1,
        price=tariff.spans(),
        ceiling_cm=run.space.height_cm,
        made_of=made_of(run),
    )


def _stage(run: Standing, stage: Stage, plan: StagePlan) -> SeasonStage:
    problem, target = plan.order.problem, plan.order.problem.target
    planned = _planned(run, stage, plan)
    return SeasonStage(
        stage_id=stage.pk,
        name=stage.name,
        first_day=plan.first_day,
        days=stage.days,
        date=date_of(run, plan.first_day),
        refused="" if plan.refused is None else worded(plan.refused, unit_of(run.owner)),
        dli_low=target.dli_low,
        dli_high=target.dli_high,
        hot_spot_cap=target.hot_spot_cap,
        response=target.response,
        daylight_dli=problem.daylight_dli,
        lost_h=float(problem.losses.lost_h(planned.setting.hours)) if planned else 0.0,
        planned=planned,
    )


def _planned(run: Standing, stage: Stage, plan: StagePlan) -> PlannedStage | None:
    if plan.setting is None or plan.outcome is None or plan.solution is None or plan.course is None:
        return None
    daylight = stage_daylight(run, stage).any_day()
    ready, target = bench(plan.order.problem), plan.order.problem.target
    basis = ready.bases[ready.space.nearest(plan.setting)[0]]
    return PlannedStage(
        setting=plan.setting,
        outcome=plan.outcome,
        on_minute=plan.on_minute,
        off_minute=off_minute(plan.on_minute, plan.setting.hours),
        kept=plan.order.kept is not None,
        relaxed=plan.solution.relaxed if plan.order.kept is None else (),
        binding=plan.solution.binding,
        obstacles=plan.solution.obstacles,
        certainty=certainty(plan.outcome, target, basis),
        rehangs=plan.course.lifts,
        easing=plan.course.easing.steps,
        abrupt=plan.course.easing.abrupt,
        night_conflict=night_conflict(target, plan.on_minute, plan.setting.hours, daylight),
    )


def season_csv(run: Standing, kept: Kept) -> str:
    """Return a run's day table."""
    return day_table(season_of(run, kept).rows, run.started_on, unit_of(run.owner))


def season_ics(run: Standing, kept: Kept, stamp: datetime) -> bytes:
    """Return a run's calendar."""
    name = f"{run.crop_name} in {run.space.name}"
    uid = f"idle-canopy-run-{run.run_id}"
    unit = unit_of(run.owner)
    return season_calendar(season_of(run, kept).rows, name, run.started_on, stamp, uid, unit)


@dataclass(frozen=True)
class Opinions:
    """The schools' answers for a stage, and what doubling the distance does here."""

    opinions: tuple[Opinion, ...]
    doubled: Distance | None


def second_opinions(run: Standing, stage: Stage) -> Opinions:
    """Return what every school would do at a stage."""
    problem = problem_of(run, stage, run.lamps, run.on_minute)
    ready = bench(problem)
    last = max(len(run.stages) - 1, 1)
    walls = enclosure(run.space, run.space.pot_cm, 0.1).wall_reflectance
    practice = Practice(
        watts=float(ready.space.watts[-1]),
        maker_low_cm=run.fixture.maker_low_cm,
        maker_high_cm=run.fixture.maker_high_cm,
        stage_share=stage.position / last,
        reflective=sum(walls) / len(walls) > REFLECTIVE,
        enriched=run.space.co2_enriched,
    )
    plan = ready.solution.setting
    return Opinions(
        opinions(ready.space, problem.target, plan, practice),
        doubled(ready.space, plan.height_cm),
    )
