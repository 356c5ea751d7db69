"""The season, and what others would do."""

from datetime import date
from typing import Literal

from ninja import Schema
from pydantic import Field

from server.common.schemas import SaidOut, Strict, within
from server.crops.adapters import DayLength
from server.fixtures.adapters import DialKind
from server.runs.adapters.bench import (
    GAP_DAYS,
    LIFT_CM,
    MINUTE,
    RISE_PCT,
    SHIFT_DAYS,
    BindingName,
    TargetName,
)
from server.runs.adapters.planning import FIRST_START, LAST_START, Aim
from server.runs.adapters.season import SchoolName
from server.runs.schemas.bench import CertaintyOut
from server.runs.schemas.levers import (
    GroupOut,
    HangingOut,
    MadeOfOut,
    ObstacleOut,
    OutcomeOut,
    SettingOut,
    SwitchSetOut,
    WindowOut,
)
from server.spaces.schemas import PriceSpanOut

AimName = Literal[Aim, "moves"]
OnWish = Literal["fixed", "cheap", "cool"]


class SeasonWishesIn(Strict):
    """What the season is planned by."""

    aim: AimName
    started_on: date = Field(ge=FIRST_START, le=LAST_START)
    on_wish: OnWish
    on_minute: int = within(MINUTE)
    rise_pct: float = Field(gt=0, le=RISE_PCT.high)
    shift_days: int = within(SHIFT_DAYS)
    lift_cm: float | None = Field(None, ge=LIFT_CM.low, le=LIFT_CM.high)
    gap_days: int | None = Field(None, ge=int(GAP_DAYS.low), le=int(GAP_DAYS.high))
    beyond_maker: bool | None = None


class OpinionOut(Schema):
    school: SchoolName
    setting: SettingOut
    outcome: OutcomeOut
    missed: list[TargetName]
    note: SaidOut


class DistanceOut(Schema):
    from_cm: float
    to_cm: float
    mean_share: float
    inverse_square: float


class OpinionsOut(Schema):
    opinions: list[OpinionOut]
    doubled: DistanceOut | None


class EasingStepOut(Schema):
    day: int
    height_cm: float
    dial_pct: float
    dli: float


class PlannedOut(Schema):
    setting: SettingOut
    outcome: OutcomeOut
    on_minute: int
    off_minute: int
    windows: list[WindowOut]
    kept: bool
    relaxed: list[TargetName]
    binding: list[BindingName]
    obstacles: list[ObstacleOut]
    certainty: CertaintyOut
    rehangs: list[HangingOut]
    hangings: list[HangingOut]
    trips: list[int]
    hurried: bool
    chance: float
    chance_read: float
    outside_maker: bool
    dial_kind: DialKind
    easing: list[EasingStepOut]
    abrupt: bool
    night_conflict: SaidOut | None
    groups: list[GroupOut]
    switches: list[SwitchSetOut]


Day = date


class SeasonStageOut(Schema):
    stage_id: int
    from_day: int
    name: str
    first_day: int
    days: int
    date: Day
    refused: str
    dli_low: float
    dli_high: float
    hot_spot_cap: float
    response: DayLength
    daylight_dli: float
    above_dli: float
    lost_h: float
    planned: PlannedOut | None


class DayOut(Schema):
    day: int
    stage: str
    on_minute: int
    off_minute: int
    windows: list[WindowOut]
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
    tasks: list[SaidOut]


class SeasonOut(Schema):
    first: date
    days: int
    stages: list[SeasonStageOut]
    rows: list[DayOut]
    kwh: float
    cost: float
    common_height: bool
    trips: int
    price: list[PriceSpanOut]
    ceiling_cm: float
    made_of: MadeOfOut
