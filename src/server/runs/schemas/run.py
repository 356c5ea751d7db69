"""Runs: made of, begun, ended."""

from datetime import date, datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field, StringConstraints

from server.common.schemas import Id, Strict
from server.runs.adapters.planning import FIRST_START, LAST_START
from server.runs.schemas.season import AimName, OnWish

PlanName = Annotated[str, StringConstraints(max_length=80)]


class RunIn(Strict):
    space_id: Id
    fixture_id: Id
    crop_id: Id
    over_cap: bool = False


class StageLivedOut(Schema):
    """When a stage of a begun run really began and ended."""

    stage_id: int
    name: str
    began_on: date | None
    ended_on: date | None


class RunOut(Schema):
    """A run: a plan until ``begun_on``; ``stage_id`` is the stage to open it at."""

    id: int
    version: int
    name: str
    copied_from_id: int | None
    removed: bool
    space_id: int
    fixture_id: int
    crop_id: int
    stage_id: int | None
    over_cap: bool
    aim: AimName
    started_on: date
    on_wish: OnWish
    on_minute: int
    rise_pct: float
    shift_days: int
    lift_cm: float
    gap_days: int
    beyond_maker: bool
    plants: int | None
    begun_on: date | None
    ended_on: date | None
    ended_how: Literal["", "harvested", "given_up"]
    harvest: float | None
    harvest_unit: Literal["", "g", "pieces"]
    lived: list[StageLivedOut]


class NameIn(Strict):
    """A plan's name; empty for that of its space and crop."""

    name: PlanName = ""


class CopyIn(NameIn):
    """A copy's name, and whether it has a space of its own, lined like this one or otherwise."""

    own_space: bool = False
    space_name: PlanName = Field("", description="the space's name and (copy) where empty")
    lining: str = Field("", max_length=20, description="one of those the lining's gains name")


class TakenBackOut(Schema):
    """What was taken back or made again, at which stage and group of lamps, and the plan now."""

    what: Literal[
        "made_of",
        "lamps",
        "wishes",
        "name",
        "levers",
        "group",
        "switch",
        "space",
        "crop",
        "fixture",
        "light",
    ]
    stage_id: int | None
    group: int
    run: RunOut


class EndIn(Strict):
    """The day a run ended, today without; how, and what there was of it, if wanted."""

    on: date | None = Field(None, ge=FIRST_START, le=LAST_START)
    how: Literal["harvested", "given_up"] = "harvested"
    harvest: float | None = Field(None, ge=0, le=1_000_000)
    unit: Literal["g", "pieces"] = "g"


class AnewIn(Strict):
    """From which day on a run is planned anew, today without; by its rows as they now are, or by
    another plan of the same crop."""

    on: date | None = Field(None, ge=FIRST_START, le=LAST_START)
    by_id: Id | None = None


class PlanRowOut(Schema):
    """A plan a run has or had."""

    number: int
    holds_from: date | None
    made_at: datetime


class OnIn(Strict):
    """The day something began or ended; today without."""

    on: date | None = Field(None, ge=FIRST_START, le=LAST_START)
