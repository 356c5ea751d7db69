"""A rack's levels and the plans on them: what falls through from one to the next, what all draw."""

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from canopy.daylight.lampday import Window
from canopy.errors import CanopyError
from canopy.formats.runfile import read_run_file, write_run_file
from canopy.plan.levers import Outcome, Setting
from canopy.plan.rack import Drawn, most_watts
from canopy.plan.season import apart_cost, cost_in
from canopy.plan.stageplan import StageChoice
from canopy.words import worded
from server.common.words import unit_of
from server.runs.adapters.planning import (
    Chosen,
    ShownGroup,
    above_of,
    chosen_on,
    date_of,
    plan_in,
    shown_groups,
)
from server.runs.adapters.prices import part_prices
from server.runs.adapters.standing import (
    Above,
    Standing,
    copied,
    file_of,
    kept_of,
    standing_of,
    whole_stage,
)
from server.runs.models import Run
from server.spaces.models import Rack, Space


def every_above(run: Standing) -> Above:
    """Return what falls through from a level above at every stage of a run."""
    return {stage.pk: above_of(run, whole_stage(stage)) for stage in run.stages}


def run_text(run: Run) -> str:
    """Return a run as a run file: its own copy, or what it would begin with today."""
    if run.begun_on is not None:
        return write_run_file(file_of(run))
    standing = standing_of(run)
    return write_run_file(read_run_file(copied(standing, every_above(standing))))


@dataclass(frozen=True)
class LevelAnswer:
    """A level on a day: the plan on it, where its levers stand and what that gives.

    Without a plan, or one that cannot be, only the space; ``refused`` says why. ``on`` is another
    day than asked where the plan has not begun by then, or is over.
    """

    space_id: int
    tier: int
    name: str
    height_cm: float
    board_through: float
    run_id: int | None = None
    run_name: str = ""
    begun: bool = False
    on: date | None = None
    stage_id: int | None = None
    stage: str = ""
    refused: str = ""
    setting: Setting | None = None
    outcome: Outcome | None = None
    fits: bool = False
    tops_cm: float = 0.0
    lamp_cm: float = 0.0
    windows: tuple[Window, ...] = ()
    groups: tuple[ShownGroup, ...] = ()
    above_dli: float = 0.0
    cost_per_day: float = 0.0
    currency: str = ""
    watts: float = 0.0


@dataclass(frozen=True)
class RackAnswer:
    """A rack on a day: its levels from the top, and what all of them draw and cost.

    Without a ``currency`` they pay in several, and nothing is added up.
    """

    rack_id: int
    name: str
    day: date
    levels: list[LevelAnswer]
    kwh_per_day: float
    cost_per_day: float
    currency: str
    most_watts: float
    most_at_minute: int


def rack_answer(rack: Rack, day: date) -> RackAnswer:
    """Return a rack on a day."""
    answers = [_level(space, plan_in(space), day) for space in reversed(list(rack.levels.all()))]
    levels = [level for level, _ in answers]
    currencies = {level.currency for level in levels if level.outcome is not None}
    watts, minute = most_watts([each for _, drawn in answers for each in drawn])
    one = len(currencies) == 1
    return RackAnswer(
        rack_id=rack.pk,
        name=rack.name,
        day=day,
        levels=levels,
        kwh_per_day=sum(level.outcome.kwh_per_day for level in levels if level.outcome),
        cost_per_day=sum(level.cost_per_day for level in levels) if one else 0.0,
        currency=currencies.pop() if one else "",
        most_watts=watts,
        most_at_minute=minute,
    )


def _level(space: Space, run: Run | None, day: date) -> tuple[LevelAnswer, list[Drawn]]:
    empty = LevelAnswer(
        space_id=space.pk,
        tier=space.tier,
        name=space.name,
        height_cm=space.height_cm,
        board_through=space.board_through,
    )
    if run is None:
        return empty, []
    standing = standing_of(run)
    planned = {
        "run_id": run.pk,
        "run_name": run.name,
        "begun": run.begun_on is not None,
        "currency": standing.tariff.currency,
    }
    try:
        first = date_of(standing, 0)
        last = first + timedelta(days=sum(stage.days for stage in standing.stages) - 1)
        on = min(max(day, first), last)
        chosen = chosen_on(standing, kept_of(run), on)
    except CanopyError as error:
        why = worded(error.said, unit_of(run.owner))
        return LevelAnswer(**vars(empty) | planned | {"refused": why}), []
    if chosen is None:
        return LevelAnswer(**vars(empty) | planned | {"refused": "The crop has no stages."}), []
    return _lit(empty, planned | {"on": on}, standing, chosen)


def _lit(
    empty: LevelAnswer, planned: dict[str, object], run: Standing, chosen: Chosen
) -> tuple[LevelAnswer, list[Drawn]]:
    part, choice, problem = chosen.part, chosen.choice, chosen.choice.problem
    space = choice.ready.space
    setting, outcome = space.setting(chosen.index), space.outcome(chosen.index)
    windows = problem.losses.day.windows(setting.hours)
    tariff = part_prices(run, part)
    apart_kwh = 0.0 if space.apart is None else space.apart.kwh_per_day
    tops = float(choice.tops[chosen.at] * problem.reach.step_cm)
    drawn = [Drawn(windows, outcome.watts)]
    drawn += [Drawn(hung.own_windows, hung.own_watts) for hung in problem.apart]
    found = {
        "stage_id": part.stage.pk,
        "stage": part.stage.name,
        "setting": setting,
        "outcome": outcome,
        "fits": _fits(choice, chosen),
        "tops_cm": tops,
        "lamp_cm": tops + setting.height_cm,
        "windows": windows,
        "groups": tuple(shown_groups(run, part, problem)),
        "above_dli": above_of(run, part).dli,
        "cost_per_day": cost_in(tariff, windows, outcome.kwh_per_day - apart_kwh)
        + apart_cost(problem, tariff),
        "watts": outcome.watts + sum(hung.own_watts for hung in problem.apart),
    }
    return LevelAnswer(**vars(empty) | planned | found), drawn


def _fits(choice: StageChoice, chosen: Chosen) -> bool:
    """Return whether every target holds on that day, but for a cap that is given up."""
    ready = choice.ready
    return all(
        np.broadcast_to(mask, ready.space.shape)[chosen.index]
        for name, mask in ready.masks.items()
        if not (choice.problem.over_cap and name == "hot_spot_cap")
    )
