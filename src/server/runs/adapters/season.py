"""A run's season and the schools' second opinions: rows to core values and back."""

from dataclasses import dataclass
from datetime import date, datetime

from canopy.crop.night import night_conflict
from canopy.crop.photoperiod import off_minute
from canopy.daylight.lampday import Window, lit_by
from canopy.errors import CanopyError
from canopy.fixture.dimming import DialKind
from canopy.formats.calendar import season_calendar
from canopy.formats.daytable import day_table
from canopy.plan.advice import Obstacle
from canopy.plan.certainty import Certainty, certainty
from canopy.plan.easing import EasingStep
from canopy.plan.levers import Outcome, Setting
from canopy.plan.schools import Distance, Opinion, Practice, doubled, opinions
from canopy.plan.schools import SchoolName as SchoolName
from canopy.plan.season import DayRow, StagePlan, day_rows, with_tiers
from canopy.plan.stageplan import Hanging
from canopy.power.tariff import TariffBand, mean_of
from canopy.power.timer import TimerClock
from canopy.words import Said, worded
from server.common.words import unit_of
from server.runs.adapters.planning import (
    Kept,
    ShownGroup,
    above_of,
    choice_for,
    date_of,
    orders_of,
    part_daylight,
    plans_of,
    problem_of,
    shown_groups,
)
from server.runs.adapters.prices import prices_of
from server.runs.adapters.standing import MadeOf, StagePart, Standing, made_of
from server.runs.adapters.switched import ShownSwitch, light_at, shown_switches
from server.spaces.adapters import enclosure

REFLECTIVE = 0.5


@dataclass(frozen=True)
class PlannedStage:
    """What a stage is set to, and what that gives."""

    setting: Setting
    outcome: Outcome
    on_minute: int
    off_minute: int
    windows: tuple[Window, ...]
    kept: bool
    relaxed: tuple[str, ...]
    binding: tuple[str, ...]
    obstacles: tuple[Obstacle, ...]
    certainty: Certainty
    rehangs: tuple[Hanging, ...]
    hangings: tuple[Hanging, ...]
    trips: tuple[int, ...]
    hurried: bool
    chance: float
    chance_read: float
    outside_maker: bool
    dial_kind: DialKind
    easing: tuple[EasingStep, ...]
    abrupt: bool
    night_conflict: Said | None
    groups: list[ShownGroup]
    switches: list[ShownSwitch]


@dataclass(frozen=True)
class SeasonStage:
    """A stage of the season; without ``planned`` it cannot be and ``refused`` says why."""

    stage_id: int
    from_day: int
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
    above_dli: float
    lost_h: float
    planned: PlannedStage | None


@dataclass(frozen=True)
class SeasonAnswer:
    """A run's whole season; ``plans`` are its stages as the core has them."""

    first: date
    days: int
    stages: list[SeasonStage]
    rows: list[DayRow]
    kwh: float
    cost: float
    common_height: bool
    trips: int
    price: list[TariffBand]
    ceiling_cm: float
    made_of: MadeOf
    plans: list[StagePlan]


def season_of(run: Standing, kept: Kept) -> SeasonAnswer:
    """Return a run's plan, stage by stage and day by day.

    Raises
    ------
    CanopyError
        When no stage can be put to the core, with the first one's reason.
    """
    first = date_of(run, 0)
    orders, refused = orders_of(run, kept)
    if refused:
        why = worded(refused[0].why, unit_of(run.owner))
        raise CanopyError(f"{refused[0].part.stage.name}: {why}", "stages")
    plans = list(plans_of(run, orders).values())
    timer = TimerClock(run.owner.zone, first, run.space.follows_summer_time)
    prices = prices_of(run)
    rows = day_rows(plans, prices, lambda day: timer.ahead_min(date_of(run, day)))
    rows = with_tiers(rows, prices(0), run.started_on, run.tariff.other_kwh_a_day)
    courses = [plan.course for plan in plans if plan.course is not None]
    floors = {hang.above_floor_cm for course in courses for hang in course.hangings}
    return SeasonAnswer(
        first=first,
        days=sum(stage.days for stage in run.stages),
        stages=[_part(run, part, plan) for part, plan in zip(run.parts, plans)],
        rows=rows,
        kwh=sum(row.kwh for row in rows),
        cost=sum(row.cost for row in rows),
        common_height=len(floors) == 1,
        trips=sum(len(course.trips) for course in courses),
        price=mean_of([prices(row.day) for row in rows] or [prices(0)]).spans(),
        ceiling_cm=run.space.height_cm,
        made_of=made_of(run),
        plans=plans,
    )


def _part(run: Standing, part: StagePart, plan: StagePlan) -> SeasonStage:
    problem, target = plan.order.problem, plan.order.problem.target
    planned = _planned(run, part, plan)
    return SeasonStage(
        stage_id=part.stage.pk,
        from_day=part.from_day,
        name=part.stage.name,
        first_day=plan.first_day,
        days=part.days,
        date=date_of(run, plan.first_day),
        refused="" if plan.refused is None else worded(plan.refused, unit_of(run.owner)),
        dli_low=target.dli_low,
        dli_high=target.dli_high,
        hot_spot_cap=target.hot_spot_cap,
        response=target.response,
        daylight_dli=problem.daylight_dli,
        above_dli=above_of(run, part).dli,
        lost_h=float(problem.losses.lost_h(planned.setting.hours)) if planned else 0.0,
        planned=planned,
    )


def _planned(run: Standing, part: StagePart, plan: StagePlan) -> PlannedStage | None:
    choice, course = plan.choice, plan.course
    if choice is None or course is None:
        return None
    daylight, above = part_daylight(run, part).any_day(), above_of(run, part)
    problem, windows = choice.problem, plan.windows(choice.setting.hours)
    return PlannedStage(
        setting=choice.setting,
        outcome=choice.outcome,
        on_minute=plan.on_minute,
        off_minute=off_minute(windows[-1].on_minute, windows[-1].hours),
        windows=windows,
        kept=plan.order.kept is not None,
        relaxed=choice.solution.relaxed,
        binding=choice.solution.binding,
        obstacles=choice.solution.obstacles,
        certainty=certainty(
            choice.outcome,
            problem.target,
            choice.ready.space.doubt,
            choice.index[0],
            choice.index[1],
            choice.ready.bases[choice.index[0]],
        ),
        rehangs=course.lifts,
        hangings=course.hangings,
        trips=course.trips,
        hurried=choice.hurried,
        chance=choice.chance,
        chance_read=choice.chance_read,
        outside_maker=not all(
            problem.reach.maker_keeps(height)
            for hang in course.hangings
            for height in (hang.above_tops_cm, hang.left_cm)
        ),
        dial_kind=problem.dimmer.kind,
        easing=course.easing.steps,
        abrupt=course.easing.abrupt,
        night_conflict=night_conflict(
            problem.target, lit_by((*windows, *problem.apart_windows, *above.windows)), daylight
        ),
        groups=shown_groups(run, part, problem),
        switches=shown_switches(run, part),
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


def second_opinions(run: Standing, part: StagePart, kept: Kept) -> Opinions:
    """Return what every school would do at a stage, or a part of one."""
    problem = problem_of(run, part, run.lamps, run.on_minute)
    chosen = choice_for(run, part, kept, problem)
    ready, plan = chosen.ready, chosen.setting
    last = max(len(run.stages) - 1, 1)
    walls = enclosure(run.space, run.space.pot_cm, 0.1).wall_reflectance
    light = light_at(run, part, plan.dial_pct)
    practice = Practice(
        watts=float(ready.space.watts[-1]),
        maker_low_cm=run.fixture.maker_low_cm,
        maker_high_cm=run.fixture.maker_high_cm,
        stage_share=part.stage.position / last,
        reflective=sum(walls) / len(walls) > REFLECTIVE,
        enriched=run.space.co2_enriched,
        area_m2=problem.box.canopy_area_m2,
        lux_per_umol=None if light is None else light.lux_per_umol,
    )
    return Opinions(
        opinions(ready.space.choosing(), problem.target, plan, practice),
        doubled(ready.space.choosing(), plan.height_cm),
    )
