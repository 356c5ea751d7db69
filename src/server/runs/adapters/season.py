"""A run's season and the schools' second opinions: rows to core values and back."""

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from canopy.crop.night import night_conflict
from canopy.crop.photoperiod import off_minute
from canopy.errors import CanopyError
from canopy.formats.calendar import season_calendar
from canopy.formats.daytable import day_table
from canopy.plan.bench import bench
from canopy.plan.certainty import certainty
from canopy.plan.levers import Setting
from canopy.plan.schools import Distance, Opinion, Practice, doubled, opinions
from canopy.plan.season import DayRow, StageOrder, StagePlan, day_rows, plan_season
from canopy.words import Said, worded
from server.common.words import unit_of
from server.crops.models import Stage
from server.runs.adapters.bench import date_of, locks_of, price_strip, problem_of, stage_daylight
from server.runs.adapters.lamps import lamps_of
from server.runs.models import Run, StageSetting
from server.spaces.adapters import enclosure, tariff_of

REFLECTIVE = 0.5


def _kept(row: StageSetting | None) -> Setting | None:
    return None if row is None else Setting(row.height_cm, row.dial_pct, row.hours)


@dataclass(frozen=True)
class Refused:
    """A stage that cannot be put to the core at all, and why."""

    stage: Stage
    why: Said


def _orders(run: Run, stages: list[Stage]) -> tuple[list[StageOrder], list[Refused]]:
    lamps = lamps_of(run)
    kept = {row.stage_id: row for row in run.settings.all()}
    orders, refused = [], []
    for stage in stages:
        row = kept.get(stage.pk)
        setting = _kept(row)
        on = run.on_minute if row is None else row.on_minute
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
                on_minute=None if row is None else row.on_minute,
            )
        )
    return orders, refused


@dataclass(frozen=True)
class SeasonAnswer:
    """A run's whole season."""

    first: date
    days: int
    stages: list[dict[str, Any]]
    rows: list[DayRow]
    kwh: float
    cost: float
    common_height: bool
    price: list[dict[str, float]]


def season_of(run: Run) -> SeasonAnswer:
    """Return a run's plan, stage by stage and day by day.

    Raises
    ------
    CanopyError
        When no stage can be put to the core, with the first one's reason.
    """
    stages = list(run.crop.stages.all())
    first = date_of(run, 0)
    orders, refused = _orders(run, stages)
    if refused:
        why = worded(refused[0].why, unit_of(run.owner))
        raise CanopyError(f"{refused[0].stage.name}: {why}", "stages")
    tariff = tariff_of(run.space)
    plans = plan_season(
        orders,
        tariff,
        wish=run.on_wish,
        rise=run.rise_pct / 100,
        fewest_moves=run.aim == "moves",
        on_minute=run.on_minute,
        shift_days=run.shift_days,
    )
    rows = day_rows(plans, tariff)
    heights = {plan.setting.height_cm for plan in plans if plan.setting is not None}
    return SeasonAnswer(
        first=first,
        days=sum(stage.days for stage in stages),
        stages=[_stage(run, stage, plan) for stage, plan in zip(stages, plans)],
        rows=rows,
        kwh=sum(row.kwh for row in rows),
        cost=sum(row.cost for row in rows),
        common_height=len(heights) == 1 and len(plans) > 1,
        price=price_strip(tariff),
    )


def _stage(run: Run, stage: Stage, plan: StagePlan) -> dict[str, Any]:
    target = plan.order.problem.target
    found: dict[str, Any] = {
        "stage_id": stage.pk,
        "name": stage.name,
        "first_day": plan.first_day,
        "days": stage.days,
        "date": date_of(run, plan.first_day),
        "refused": "" if plan.refused is None else worded(plan.refused, unit_of(run.owner)),
        "dli_low": target.dli_low,
        "dli_high": target.dli_high,
        "hot_spot_cap": target.hot_spot_cap,
        "response": target.response,
        "daylight_dli": plan.order.problem.daylight_dli,
        "lost_h": 0.0,
        "planned": None,
    }
    if plan.setting is None or plan.outcome is None or plan.solution is None or plan.course is None:
        return found
    found["lost_h"] = float(plan.order.problem.losses.lost_h(plan.setting.hours))
    daylight = stage_daylight(run, stage).any_day()
    ready = bench(plan.order.problem)
    basis = ready.bases[ready.space.nearest(plan.setting)[0]]
    found["planned"] = {
        "setting": plan.setting,
        "outcome": plan.outcome,
        "on_minute": plan.on_minute,
        "off_minute": off_minute(plan.on_minute, plan.setting.hours),
        "kept": plan.order.kept is not None,
        "relaxed": plan.solution.relaxed if plan.order.kept is None else (),
        "binding": plan.solution.binding,
        "obstacles": plan.solution.obstacles,
        "certainty": certainty(plan.outcome, target, basis),
        "rehangs": plan.course.lifts,
        "easing": plan.course.easing.steps,
        "abrupt": plan.course.easing.abrupt,
        "night_conflict": night_conflict(target, plan.on_minute, plan.setting.hours, daylight),
    }
    return found


def season_csv(run: Run) -> str:
    """Return a run's day table."""
    return day_table(season_of(run).rows, run.started_on, unit_of(run.owner))


def season_ics(run: Run, stamp: datetime) -> bytes:
    """Return a run's calendar."""
    name = f"{run.crop.name} in {run.space.name}"
    uid = f"idle-canopy-run-{run.pk}"
    unit = unit_of(run.owner)
    return season_calendar(season_of(run).rows, name, run.started_on, stamp, uid, unit)


@dataclass(frozen=True)
class Opinions:
    """The schools' answers for a stage, and what doubling the distance does here."""

    opinions: tuple[Opinion, ...]
    doubled: Distance | None


def second_opinions(run: Run, stage: Stage) -> Opinions:
    """Return what every school would do at a stage."""
    problem = problem_of(run, stage, lamps_of(run), run.on_minute)
    ready = bench(problem)
    last = max(run.crop.stages.count() - 1, 1)
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
