"""The bench."""

from typing import Literal

from ninja import Schema
from pydantic import Field

from server.common.schemas import Id, SaidOut, Strict
from server.crops.schemas import StageOut
from server.fixtures.adapters import DialKind
from server.fixtures.schemas import LightOut, MapStatisticsOut
from server.runs.adapters.bench import Basis, BindingName, Lever, PartName, TargetName
from server.runs.adapters.standing import MOST_DAYS
from server.runs.schemas.history import WindowIn
from server.runs.schemas.lamps import HungLampOut
from server.runs.schemas.levers import (
    GroupOut,
    HangingOut,
    LeversIn,
    MadeOfOut,
    ObstacleOut,
    OutcomeOut,
    SettingOut,
    SwitchSetOut,
    WindowOut,
)
from server.spaces.schemas import PlotIn, PriceSpanOut, StandIn


class BenchIn(LeversIn):
    stage_id: Id
    from_day: int = Field(0, ge=0, lt=MOST_DAYS)
    on_minute: int = Field(360, ge=0, lt=1440)


class SettingIn(LeversIn):
    from_day: int = Field(0, ge=0, lt=MOST_DAYS)
    on_minute: int = Field(ge=0, lt=1440)


class GroupIn(Strict):
    """What a group of lamps is set to: 0 is off; no windows: on with the rail's."""

    from_day: int = Field(0, ge=0, lt=MOST_DAYS)
    dial_pct: float = Field(ge=0, le=100)
    windows: list[WindowIn] = Field(default_factory=list, max_length=4)


class SwitchSetIn(Strict):
    """Where a switch of the lamp stands: 0 is off, nothing goes with the plan's dial."""

    from_day: int = Field(0, ge=0, lt=MOST_DAYS)
    dial_pct: float | None = Field(None, ge=0, le=100)


class StageRoomOut(Schema):
    stage_id: int
    name: str
    highest_cm: float
    lowest_cm: float
    fits: bool
    missing_cm: float


class SolutionOut(Schema):
    setting: SettingOut
    outcome: OutcomeOut
    fits: bool
    relaxed: list[TargetName]
    binding: list[BindingName]
    obstacles: list[ObstacleOut]
    cap_in_the_way: bool


class LimitOut(Schema):
    name: TargetName
    value: float
    bound: float
    holds: bool


class PartOut(Schema):
    low: float
    high: float
    below: list[TargetName]
    above: list[TargetName]


class SunOut(Schema):
    """From and until when there is any daylight, minutes after midnight."""

    from_minute: int
    to_minute: int


class SpanOut(Schema):
    low: float
    high: float


class StretchOut(Schema):
    lever: Lever
    lowest: float
    highest: float
    parts: list[PartOut]
    sure: list[SpanOut]
    nearest: float | None


class DoubtPartOut(Schema):
    """What one thing that is not known does: 90 % ranges to either side, as shares."""

    name: PartName
    mean: float
    brightest: float
    dimmest: float


class CertaintyOut(Schema):
    """Ranges that hold 90 %, and their parts, added as squares."""

    basis: Basis
    mean_tolerance: float
    spot_tolerance: float
    dimmest_tolerance: float
    parts: list[DoubtPartOut]
    lowest_low: float
    lowest_high: float
    mean_low: float
    mean_high: float
    peak_low: float
    peak_high: float
    dli_low: float
    dli_high: float
    survives: bool
    fails: list[TargetName]


class AsReadFigureOut(Schema):
    low: float
    middle: float
    high: float


class AsReadOut(Schema):
    """What the grower's sensor would show of an answer, with 90 % ranges."""

    mean: AsReadFigureOut
    brightest: AsReadFigureOut
    dimmest: AsReadFigureOut


class RehangOut(Schema):
    above_floor_cm: float
    growth_cm: float
    left_cm: float
    first_day: int | None
    fails: list[TargetName | Literal["clearance"]]
    peak_umol_m2_s: float | None


class FloorOut(Schema):
    x_cm: list[float]
    y_cm: list[float]
    ppfd: list[list[float]]
    day_ppfd: list[list[float]]


class GeometryOut(Schema):
    width_cm: float
    depth_cm: float
    height_cm: float
    pot_cm: float
    hangers_cm: float
    plant_start_cm: float
    plant_end_cm: float
    lowest_cm: float
    highest_cm: float
    maker_low_cm: float | None
    maker_high_cm: float | None
    fixed: bool
    stands: list[StandIn]
    plots: list[PlotIn]
    lamps: list[HungLampOut]


class DialMarkOut(Schema):
    position_pct: float
    light_fraction: float
    watts: float


class DialOut(Schema):
    kind: DialKind
    marks: list[DialMarkOut]
    positions_pct: list[float]


class BenchOut(Schema):
    stage: StageOut
    from_day: int
    setting: SettingOut
    on_minute: int
    off_minute: int
    windows: list[WindowOut]
    night_h: float
    sun: SunOut | None
    kept: bool
    locked: list[Lever]
    hot_spot_cap: float
    solution: SolutionOut
    chance: float
    chance_read: float
    hangings: list[HangingOut]
    outside_maker: bool
    hurried: bool
    height_step_cm: float
    outcome: OutcomeOut
    limits: list[LimitOut]
    stretches: list[StretchOut]
    certainty: CertaintyOut
    as_read: AsReadOut | None = Field(description="where a fit knows the grower's sensor")
    rehang: RehangOut
    floor: FloorOut
    statistics: MapStatisticsOut
    inside_share: float
    ppfd_low: float
    ppfd_high: float
    own_band: bool
    dli_per_umol: float
    daylight_dli: float
    above_dli: float
    groups: list[GroupOut]
    switches: list[SwitchSetOut]
    colour: LightOut | None = Field(description="of the lamp's light so, where it has switches")
    fan: bool | None = Field(description="whether its fan runs so, where that hangs on a switch")
    group_dli: float
    lost_h: float
    night_conflict: SaidOut | None
    beyond_bound: SaidOut | None = Field(description="its light on the canopy can't be so much")
    middle_hours: float | None
    canopy_umol_s: float
    capture: float | None
    capture_bound: float
    light_fraction: float
    cost_per_day: float
    heat_btu_per_h: float
    geometry: GeometryOut
    dial: DialOut
    price: list[PriceSpanOut]
    made_of: MadeOfOut
