"""A run as the core plans it: its stages as problems, and the plan of them all."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from django.db.models import F

from canopy.crop.targets import as_band
from canopy.daylight.background import Background, none
from canopy.daylight.lampday import Window, lamp_day, sun_span
from canopy.errors import CanopyError
from canopy.formats.growing import FIRST_START as FIRST_START
from canopy.formats.growing import LAST_START as LAST_START
from canopy.light.enclosure import Enclosure
from canopy.plan.levers import FREE, Locks, Setting
from canopy.plan.problem import (
    Growth,
    HungLamp,
    Reach,
    StagePlace,
    StageProblem,
    SwitchSet,
    Visits,
)
from canopy.plan.rack import NOTHING_FROM_ABOVE, FromAbove, falls_through, on_the_board
from canopy.plan.season import StageOrder, StagePlan, choices, plan_season
from canopy.plan.solver import Aim as Aim
from canopy.plan.stageplan import StageChoice, plan_stage
from canopy.power.hanging import HEIGHT_STEP_CM
from canopy.words import QUARTER_INCH_CM, Said
from server.common.words import unit_of
from server.crops.adapters import canopy_reflectance, leaf_cover, target_of
from server.crops.models import Stage
from server.fixtures.adapters.switches import shares_of
from server.fixtures.models import Fixture
from server.runs.adapters.lamps import (
    HungFixture,
    check_lamps,
    hung_lamp,
    rail_lamp,
)
from server.runs.adapters.prices import part_prices, prices_of
from server.runs.adapters.standing import StagePart, Standing, kept_of, standing_of
from server.runs.models import Run
from server.runs.models import Setting as SettingRow
from server.spaces.adapters import (
    daylight_over,
    enclosure,
    losses_of,
    plots_of,
    stands_of,
)
from server.spaces.models import Space

AIM_OF: dict[str, Aim] = {
    "likely": "likely",
    "middle": "middle",
    "energy": "energy",
    "even": "even",
    "gentle": "gentle",
}

Kept = Mapping[tuple[int, int], SettingRow]
"""What the grower set for parts of stages, by the stages' ids and the parts' first days."""


def date_of(run: Standing, day: int) -> date:
    """Return the date of a run's day, counted from 0.

    Raises
    ------
    CanopyError
        When the run starts on a day no season can.
    """
    if not FIRST_START <= run.started_on <= LAST_START:
        raise CanopyError(
            f"The run starts on {run.started_on}; give a day from {FIRST_START.year} to "
            f"{LAST_START.year}.",
            "started_on",
        )
    return run.started_on + timedelta(days=day)


def days_before(run: Standing, part: StagePart) -> int:
    """Return the day of a run, from 0, on which a part of a stage begins."""
    at = part.stage.position
    return part.from_day + sum(other.days for other in run.stages if other.position < at)


def part_daylight(run: Standing, part: StagePart) -> Background:
    """Return the daylight over a part of a stage's days."""
    if run.space.daylight is None:
        return none(part.days)
    return daylight_over(run.space.daylight, date_of(run, days_before(run, part)), part.days)


def step_cm(run: Standing) -> float:
    """Return the step a grower reads off a tape measure: a centimetre, or a quarter inch."""
    return QUARTER_INCH_CM if unit_of(run.owner) == "in" else HEIGHT_STEP_CM


def reach_of(run: Standing, fixture: Fixture) -> Reach:
    """Return which heights a plan may choose for a lamp."""
    return Reach(
        maker_low_cm=fixture.maker_low_cm,
        maker_high_cm=fixture.maker_high_cm,
        beyond=run.beyond_maker,
        step_cm=step_cm(run),
    )


def plan_in(space: Space) -> Run | None:
    """Return the plan that stands for a space: a run under way, else the plan last worked on."""
    rows = Run.objects.filter(space=space, owner=space.owner_id, removed=False, ended_on=None)
    rows = rows.select_related("space", "fixture__light_map", "crop")
    found = rows.order_by(F("begun_on").desc(nulls_last=True), "-changed_at").first()
    if found is not None:
        found.owner = space.owner
    return found


@dataclass(frozen=True)
class Chosen:
    """A run on one of its days: the part of a stage, its plan, and that day's levers as indices."""

    part: StagePart
    choice: StageChoice
    at: int
    index: tuple[int, int, int]


def chosen_on(run: Standing, kept: Kept, day: date) -> Chosen | None:
    """Return a run as it is planned, or was set, on a day; none where it does not last to it.

    Raises
    ------
    CanopyError
        When that stage cannot be.
    """
    at = (day - date_of(run, 0)).days
    for part in run.parts:
        first = days_before(run, part)
        if first <= at < first + part.days:
            return _chosen(run, part, kept, at - first)
    return None


def _chosen(run: Standing, part: StagePart, kept: Kept, at: int) -> Chosen:
    row = kept.get(part.key)
    problem = problem_of(run, part, run.lamps, run.on_minute if row is None else on_minute_of(row))
    choice = (
        choice_for(run, part, kept, problem) if row is None else plan_stage(problem, levers_of(row))
    )
    index = int(choice.rows[at]), int(choice.dials[at]), choice.index[2]
    return Chosen(part, choice, at, index)


def above_of(run: Standing, part: StagePart) -> FromAbove:
    """Return what falls through to a part of a stage from the level above, in its middle.

    A begun run keeps what it began with.
    """
    if run.above is not None:
        return run.above.get(part.stage.pk, NOTHING_FROM_ABOVE)
    if run.space.rack_id is None:
        return NOTHING_FROM_ABOVE
    levels = Space.objects.filter(
        rack=run.space.rack_id, removed=False, tier__gt=run.space.tier
    ).select_related("owner")
    upper = levels.order_by("tier").first()
    other = None if upper is None or upper.board_through == 0 else plan_in(upper)
    if upper is None or other is None:
        return NOTHING_FROM_ABOVE
    middle = date_of(run, days_before(run, part) + part.days // 2)
    standing = standing_of(other)
    try:
        chosen = chosen_on(standing, kept_of(other), middle)
    except CanopyError:
        # what cannot be lights nothing
        chosen = None
    if chosen is None:
        return NOTHING_FROM_ABOVE
    ready, problem = chosen.choice.ready, chosen.choice.problem
    hours = float(ready.space.hours[chosen.index[2]])
    board = on_the_board(
        ready.day_ppfd(chosen.index),
        ready.stack.weights,
        ready.standing,
        leaf_cover(standing.habit),
    )
    box = _box_of(run, part)
    dli = float(ready.space.lamp_dli(board, hours))
    windows = (*problem.losses.day.windows(hours), *problem.apart_windows)
    return FromAbove(falls_through(dli, upper.board_through, box), windows)


def _box_of(run: Standing, part: StagePart) -> Enclosure:
    top_cm = run.space.pot_cm + part.plant_end_cm
    return run.learnt.box(enclosure(run.space, top_cm, canopy_reflectance(run.habit)))


def tall_box(run: Standing) -> Enclosure:
    """Return the box of a run's tent as noted where it is highest above the tops."""
    least_cm = min((stage.plant_start_cm for stage in run.stages), default=0.0)
    return enclosure(run.space, run.space.pot_cm + least_cm, canopy_reflectance(run.habit))


def lamps_learnt(
    run: Standing, hung: Sequence[HungFixture], lamps: Sequence[HungLamp]
) -> tuple[HungLamp, ...]:
    """Return a run's lamps with what fits have taught of them."""
    return run.learnt.lamps(hung, lamps, tall_box(run))


def place_of(run: Standing, part: StagePart, on_minute: int) -> StagePlace:
    """Return a part of a stage of a run as the core's, without its lamps.

    The canopy stands where the plants end: there the headroom is least.
    """
    space = run.space
    target = as_band(target_of(part.stage, space.co2_enriched), space.timer_step_min)
    top_cm = space.pot_cm + part.plant_end_cm
    daylight = part_daylight(run, part)
    sun = sun_span(daylight.any_day())
    tariff = part_prices(run, part) if sun else None
    price = tuple(tariff.by_minute().tolist()) if tariff and tariff.bands else None
    return StagePlace(
        box=_box_of(run, part),
        room_cm=space.height_cm - top_cm - space.hangers_cm,
        timer_step_min=space.timer_step_min,
        target=target,
        stands=stands_of(space),
        plots=plots_of(space),
        aim=AIM_OF.get(run.aim, "middle"),
        losses=losses_of(space, lamp_day(target, on_minute, space.timer_step_min, sun, price)),
        daylight_dli=float(daylight.dli.mean()) + above_of(run, part).dli,
        over_cap=run.over_cap,
        growth=Growth(
            tops_cm=space.pot_cm + part.plant_start_cm,
            by_cm=part.plant_end_cm - part.plant_start_cm,
            days=part.days,
        ),
        visits=visits_of(run, part),
        fixed=space.lamps_fixed,
    )


def planned_together(run: Standing) -> bool:
    """Return whether the plan of one stage hangs on what is set for the others."""
    return run.aim == "moves"


def visits_of(run: Standing, part: StagePart) -> Visits:
    """Return how often somebody comes to the tent, and the light of the parts beside this one."""
    around = [
        each
        for stage in run.stages
        for each in run.parts_of(stage, part.from_day if stage.pk == part.stage.pk else 0)
    ]
    bands = [(each.stage.dli_low, each.stage.dli_high) for each in around]
    at = [each.key for each in around].index(part.key)
    return Visits(
        lift_cm=run.lift_cm,
        gap_days=run.gap_days,
        rise=run.rise_pct / 100,
        before=bands[at - 1] if at else None,
        after=bands[at + 1] if at + 1 < len(bands) else None,
        sparing=planned_together(run),
    )


def problem_of(
    run: Standing, part: StagePart, lamps: list[HungFixture], on_minute: int, locks: Locks = FREE
) -> StageProblem:
    """Return a part of a stage of a run with its lamps as the core's problem.

    The first part of a stage that is changed later begins as the stage would without the change.
    """
    problem = _problem(run, part, lamps, on_minute, locks)
    whole = StagePart(part.stage, 0, part.stage.days)
    if part.from_day or part == whole:
        return problem
    return replace(problem, whole=_problem(run, whole, lamps, on_minute, locks))


def _problem(
    run: Standing, part: StagePart, lamps: list[HungFixture], on_minute: int, locks: Locks
) -> StageProblem:
    space, main = run.space, run.fixture
    check_lamps(space, main, lamps)
    hung = [hung_lamp(lamp, space, main, run.group_setting(part, lamp.group)) for lamp in lamps]
    standing = run.switched(part)
    problem = place_of(run, part, on_minute).problem(
        lamps_learnt(run, lamps, hung),
        [lamp.frame() for lamp in lamps],
        rail_lamp(lamps, main).dimmer(standing),
        locks,
        reach_of(run, main),
    )
    switches = tuple(
        SwitchSet(switch.name, standing.get(i), switch.dimmed)
        for i, (switch, _, _) in enumerate(shares_of(main))
    )
    return replace(problem, switches=switches)


@dataclass(frozen=True)
class ShownGroup:
    """A group of lamps beside the rail's own, and what is set for it.

    Without ``own`` it does as its lamps would in no group; without ``own_timer`` it is on with the
    rail's.
    """

    group: int
    lamps: int
    own: bool
    own_timer: bool
    dial_pct: float
    windows: tuple[Window, ...]
    watts: float
    kwh_per_day: float


def shown_groups(run: Standing, part: StagePart, problem: StageProblem) -> list[ShownGroup]:
    """Return the groups a part's lamps are in."""
    found = []
    for group in sorted({lamp.group for lamp in run.lamps} - {0}):
        setting = run.group_setting(part, group)
        hung = problem.group_lamps().get(group, ())
        found.append(
            ShownGroup(
                group=group,
                lamps=sum(lamp.group == group for lamp in run.lamps),
                own=setting is not None,
                own_timer=bool(setting and setting.windows),
                dial_pct=100.0 if setting is None else setting.dial_pct,
                windows=() if setting is None else setting.windows,
                watts=sum(lamp.own_watts for lamp in hung),
                kwh_per_day=sum(problem.apart_kwh(lamp) for lamp in hung),
            )
        )
    return found


def levers_of(row: SettingRow) -> Setting:
    """Return a kept setting's levers; what it does not say stands at nothing."""
    hours = sum(window["hours"] for window in row.windows)
    return Setting(row.height_cm or 0.0, row.dial_pct or 0.0, hours)


def on_minute_of(row: SettingRow) -> int:
    """Return when a kept setting's first window begins, minutes after midnight."""
    return int(row.windows[0]["on_minute"]) if row.windows else 0


def locks_of(wanted: Setting | None, locked: Sequence[str]) -> Locks:
    """Return a setting's locked levers."""
    if wanted is None:
        return FREE
    return Locks(
        height_cm=wanted.height_cm if "height" in locked else None,
        dial_pct=wanted.dial_pct if "dial" in locked else None,
        hours=wanted.hours if "hours" in locked else None,
    )


def levers_on(run: Standing, stage: Stage, kept: Kept, day: int) -> tuple[Setting, int]:
    """Return where the levers stand on a day of a stage as it is planned, and when the lamp is on.

    Raises
    ------
    CanopyError
        When the stage cannot be put to the core.
    """
    part = next(each for each in reversed(run.parts_of(stage)) if each.from_day <= day)
    row = kept.get(part.key)
    chosen = _chosen(run, part, kept, day - part.from_day)
    on_minute = run.on_minute if row is None else on_minute_of(row)
    return chosen.choice.ready.space.setting(chosen.index), on_minute


def _in_order(run: Standing) -> Callable[[tuple[int, int]], tuple[int, int]]:
    positions = {stage.pk: stage.position for stage in run.stages}
    return lambda key: (positions[key[0]], key[1])


@dataclass(frozen=True)
class Refused:
    """A part of a stage that cannot be put to the core at all, and why."""

    part: StagePart
    why: Said


Orders = dict[tuple[int, int], StageOrder]


def orders_of(run: Standing, kept: Kept) -> tuple[Orders, list[Refused]]:
    """Return a run's stages in parts to plan, by their keys, and those that cannot be put so."""
    orders, refused = {}, []
    for part in run.parts:
        row = kept.get(part.key)
        setting = None if row is None else levers_of(row)
        on = run.on_minute if row is None else on_minute_of(row)
        try:
            problem = problem_of(
                run, part, run.lamps, on, locks_of(setting, row.locked if row else ())
            )
        except CanopyError as error:
            refused.append(Refused(part, error.said))
            continue
        orders[part.key] = StageOrder(
            part.stage.name,
            problem,
            setting,
            on_minute=None if row is None else on,
            goes_on=part.from_day > 0,
        )
    return orders, refused


def plans_of(run: Standing, orders: Orders) -> dict[tuple[int, int], StagePlan]:
    """Return the plan of a run's stages in parts, by their keys."""
    plans = plan_season(
        list(orders.values()),
        prices_of(run),
        wish=run.on_wish,
        on_minute=run.on_minute,
        shift_days=run.shift_days,
    )
    return dict(zip(orders, plans))


def choice_for(run: Standing, part: StagePart, kept: Kept, problem: StageProblem) -> StageChoice:
    """Return what the plan chooses for a part as it is put, the others as they are.

    Raises
    ------
    CanopyError
        When it cannot be.
    """
    if not problem.visits.sparing:
        return plan_stage(problem)
    orders, _ = orders_of(run, kept)
    orders[part.key] = StageOrder(part.stage.name, problem, goes_on=part.from_day > 0)
    orders = {key: orders[key] for key in sorted(orders, key=_in_order(run))}
    found = dict(zip(orders, choices(list(orders.values()))))[part.key]
    if isinstance(found, Said):
        raise CanopyError(found)
    return found
