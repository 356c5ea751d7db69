"""Up to four plans side by side: what each is made of, its season, and its floor at a stage."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from canopy.errors import CanopyError
from canopy.light.floors import floor_difference
from canopy.plan.levers import Outcome, Setting
from canopy.plan.season import StagePlan
from canopy.plan.stageplan import StageChoice
from canopy.words import worded
from server.choosing.adapters.comparison import Difference
from server.choosing.adapters.ranking import rounded
from server.common.words import unit_of
from server.runs.adapters.planning import Kept
from server.runs.adapters.season import SeasonAnswer, season_of
from server.runs.adapters.standing import Standing
from server.spaces.models import Space


@dataclass(frozen=True)
class HungCount:
    """How many of a kind of lamp hang in a plan."""

    name: str
    count: int


@dataclass(frozen=True)
class FloorAt:
    """The floor on the first day of a stage: its map, and against the band."""

    x_cm: list[float]
    y_cm: list[float]
    floor: list[list[float]]
    ppfd_low: float
    ppfd_high: float
    hot_spot_cap: float
    inside_share: float


@dataclass(frozen=True)
class StageAt:
    """A plan at the stage looked at; without ``setting`` it cannot be and ``refused`` says why."""

    name: str
    dli_low: float
    dli_high: float
    refused: str
    setting: Setting | None
    outcome: Outcome | None
    relaxed: tuple[str, ...]
    floor: FloorAt | None


@dataclass(frozen=True)
class PlanBeside:
    """A plan beside others; without ``season`` figures it cannot be and ``refused`` says why.

    ``short`` are the stages in which some target is missed or that cannot be.
    """

    run_id: int
    space: Space
    crop: str
    currency: str
    aim: str
    lamps: list[HungCount]
    refused: str
    days: int
    kwh: float
    cost: float
    trips: int
    short: list[str]
    stage: StageAt | None


@dataclass(frozen=True)
class PlansBeside:
    """Plans in the order asked, and how each floor differs from the first one's."""

    plans: list[PlanBeside]
    differences: list[Difference | None]


@dataclass(frozen=True)
class _Looked:
    """A plan beside others, and what its floor is made of."""

    plan: PlanBeside
    choice: StageChoice | None


def plans_beside(plans: Sequence[tuple[Standing, Kept]], stage_id: int) -> PlansBeside:
    """Return plans side by side at a stage of the first of them.

    The others are looked at in the same stage of their crop, else in the one called so, else in the
    one that asks for the most light.
    """
    first = plans[0][0]
    name = first.stage(stage_id).name
    looked = [_looked(run, kept, stage_id, name) for run, kept in plans]
    return PlansBeside(
        plans=[each.plan for each in looked],
        differences=[None, *(_difference(each, looked[0]) for each in looked[1:])],
    )


def _looked(run: Standing, kept: Kept, stage_id: int, name: str) -> _Looked:
    season, refused = None, ""
    try:
        season = season_of(run, kept)
    except CanopyError as error:
        refused = worded(error.said, unit_of(run.owner))
    plan = None if season is None else _at(season, stage_id, name)
    choice = None if plan is None else plan.choice
    try:
        hung = Counter(lamp.fixture.name for lamp in run.lamps)
    except CanopyError:
        hung = Counter([run.fixture.name])
    shown = PlanBeside(
        run_id=run.run_id,
        space=run.space,
        crop=run.crop_name,
        currency=run.tariff.currency,
        aim=run.aim,
        lamps=[HungCount(lamp, count) for lamp, count in hung.items()],
        refused=refused,
        days=season.days if season else 0,
        kwh=season.kwh if season else 0.0,
        cost=season.cost if season else 0.0,
        trips=season.trips if season else 0,
        short=[
            stage.name
            for stage in (season.stages if season else [])
            if stage.planned is None or stage.planned.relaxed
        ],
        stage=None if plan is None else _stage_at(run, plan),
    )
    return _Looked(shown, choice)


def _at(season: SeasonAnswer, stage_id: int, name: str) -> StagePlan:
    """Return the plan of the stage to look at."""
    both = list(zip(season.stages, season.plans))
    same = [plan for stage, plan in both if stage.stage_id == stage_id]
    called = [plan for stage, plan in both if stage.name == name]
    hungry = max(both, key=lambda each: each[0].dli_low + each[0].dli_high)[1]
    return [*same, *called, hungry][0]


def _stage_at(run: Standing, plan: StagePlan) -> StageAt:
    choice, target = plan.choice, plan.order.problem.target
    return StageAt(
        name=plan.order.name,
        dli_low=target.dli_low,
        dli_high=target.dli_high,
        refused="" if plan.refused is None else worded(plan.refused, unit_of(run.owner)),
        setting=choice.setting if choice else None,
        outcome=choice.outcome if choice else None,
        relaxed=choice.solution.relaxed if choice else (),
        floor=_floor(choice) if choice else None,
    )


def _floor(choice: StageChoice) -> FloorAt:
    problem, ready, index = choice.problem, choice.ready, choice.index
    x, y = ready.grid.axes_cm(problem.box.width_cm, problem.box.depth_cm)
    held = ready.against_band(problem.target, index)
    return FloorAt(
        x_cm=x.tolist(),
        y_cm=y.tolist(),
        floor=rounded(held.ppfd, ready.grid),
        ppfd_low=held.low,
        ppfd_high=held.high,
        hot_spot_cap=problem.target.hot_spot_cap,
        inside_share=held.inside,
    )


def _difference(one: _Looked, first: _Looked) -> Difference | None:
    """Return how a floor differs from the first one's; none where they have other points."""
    if one.choice is None or first.choice is None:
        return None
    ready, other = one.choice.ready, first.choice.ready
    mine, theirs = one.choice.problem.box, first.choice.problem.box
    if (ready.grid, mine.width_cm, mine.depth_cm) != (other.grid, theirs.width_cm, theirs.depth_cm):
        return None
    floors = ready.ppfd(one.choice.index), other.ppfd(first.choice.index)
    less = floor_difference(*floors, ready.grid.area_weights())
    return Difference.of(less, ready.grid)
