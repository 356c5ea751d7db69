"""What runs exchange."""

from datetime import date
from typing import Literal

from ninja import Schema
from pydantic import Field

from server.common.schemas import Id, SaidOut, Strict
from server.crops.adapters import DayLength
from server.crops.schemas import StageOut
from server.fixtures.adapters import DialKind
from server.fixtures.schemas import FindingOut, LightSource, Trust
from server.runs.adapters.bench import (
    FIRST_START,
    LAST_START,
    Aim,
    Basis,
    BindingName,
    Change,
    Lever,
    TargetName,
)
from server.runs.adapters.lamps import MOST_LAMPS
from server.runs.adapters.season import SchoolName
from server.runs.adapters.shelf import Limits, ShelfWishes
from server.spaces.schemas import SIDE_CM, PlotIn, StandIn, TariffBandIn

AimName = Literal[Aim, "moves"]
OnWish = Literal["fixed", "cheap", "cool"]


class RunIn(Strict):
    space_id: Id
    fixture_id: Id
    crop_id: Id
    over_cap: bool = False


class RunOut(Schema):
    id: int
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


class SeasonWishesIn(Strict):
    """What the season is planned by."""

    aim: AimName
    started_on: date = Field(ge=FIRST_START, le=LAST_START)
    on_wish: OnWish
    on_minute: int = Field(ge=0, lt=1440)
    rise_pct: float = Field(gt=0, le=500)
    shift_days: int = Field(ge=1, le=60)


class StageRoomOut(Schema):
    stage_id: int
    name: str
    highest_cm: float
    lowest_cm: float
    fits: bool
    missing_cm: float


class LeversIn(Strict):
    """One position of each lever; moved to the nearest that can be had."""

    height_cm: float = Field(ge=0, le=500)
    dial_pct: float = Field(ge=0, le=100)
    hours: float = Field(ge=0, le=24)
    locked: list[Lever] = Field(default_factory=list, max_length=3)


class BenchIn(LeversIn):
    stage_id: Id
    on_minute: int = Field(360, ge=0, lt=1440)


class SettingIn(LeversIn):
    on_minute: int = Field(ge=0, lt=1440)


class SettingOut(Schema):
    height_cm: float
    dial_pct: float
    hours: float


class OutcomeOut(Schema):
    mean: float
    peak: float
    lowest: float
    evenness: float
    dli: float
    watts: float
    kwh_per_day: float


class ObstacleOut(Schema):
    name: TargetName
    best: float
    asked: float
    change: Change
    amount: float
    reach: float


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


class StretchOut(Schema):
    lever: Lever
    lowest: float
    highest: float
    parts: list[PartOut]
    nearest: float | None


class CertaintyOut(Schema):
    basis: Basis
    mean_tolerance: float
    spot_tolerance: float
    mean_low: float
    mean_high: float
    peak_low: float
    peak_high: float
    dli_low: float
    dli_high: float
    survives: bool
    fails: list[TargetName]


class RehangOut(Schema):
    growth_cm: float
    left_cm: float
    first_day: float | None
    peak_umol_m2_s: float | None


class FloorOut(Schema):
    x_cm: list[float]
    y_cm: list[float]
    ppfd: list[list[float]]


class StatisticsOut(Schema):
    mean: float
    area_mean: float
    minimum: float
    maximum: float
    min_over_max: float | None
    min_over_mean: float | None
    max_over_mean: float | None
    variation: float | None
    christiansen: float | None


class LampIn(Strict):
    """One lamp where it hangs; without a dial of its own it follows the rail's."""

    fixture_id: Id
    x_cm: float = Field(ge=0, le=SIDE_CM[1])
    y_cm: float = Field(ge=0, le=SIDE_CM[1])
    turn_deg: float = Field(0, ge=-360, le=360)
    tilt_deg: float = Field(0, ge=-90, le=90)
    raise_cm: float = Field(0, ge=-200, le=200)
    bars_off: list[int] = Field(default_factory=list, max_length=40)
    own_dial_pct: float | None = Field(None, ge=0, le=100)


class LampsIn(Strict):
    """All lamps of a run; none puts its fixture once in the middle."""

    lamps: list[LampIn] = Field(max_length=MOST_LAMPS)


class LampOut(LampIn):
    bars_x_cm: list[float]


class HungLampOut(Schema):
    """A lamp as the pictures show it."""

    name: str
    x_cm: float
    y_cm: float
    raise_cm: float
    tilt_deg: float
    turn_deg: float
    body_cm: float
    frame_x_cm: float
    frame_y_cm: float
    corners_cm: list[list[float]]
    light_source: LightSource
    follows: bool
    light_fraction: float | None


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
    setting: SettingOut
    on_minute: int
    off_minute: int
    kept: bool
    locked: list[Lever]
    hot_spot_cap: float
    solution: SolutionOut
    outcome: OutcomeOut
    limits: list[LimitOut]
    stretches: list[StretchOut]
    certainty: CertaintyOut
    rehang: RehangOut
    floor: FloorOut
    statistics: StatisticsOut
    inside_share: float
    ppfd_low: float
    ppfd_high: float
    dli_per_umol: float
    daylight_dli: float
    lost_h: float
    night_conflict: SaidOut | None
    middle_hours: float | None
    canopy_umol_s: float
    capture: float | None
    capture_bound: float
    light_fraction: float
    cost_per_day: float
    heat_btu_per_h: float
    geometry: GeometryOut
    dial: DialOut
    price: list[TariffBandIn]


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


class RehangDayOut(Schema):
    day: int
    above_floor_cm: float
    by_cm: float


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
    kept: bool
    relaxed: list[TargetName]
    binding: list[BindingName]
    obstacles: list[ObstacleOut]
    certainty: CertaintyOut
    rehangs: list[RehangDayOut]
    easing: list[EasingStepOut]
    abrupt: bool
    night_conflict: SaidOut | None


Day = date


class SeasonStageOut(Schema):
    stage_id: int
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
    lost_h: float
    planned: PlannedOut | None


class DayOut(Schema):
    day: int
    stage: str
    on_minute: int
    off_minute: int
    hours: float
    dial_pct: float
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
    price: list[TariffBandIn]


class OwnershipIn(Strict):
    """What lamps are chosen by; no limit where nothing is given."""

    years: float = Field(3, gt=0, le=50)
    days_a_year: float = Field(365, gt=0, le=366)
    budget: float | None = Field(None, gt=0, le=1_000_000)
    circuit_w: float | None = Field(None, gt=0, le=100_000)
    bears_kg: float | None = Field(None, gt=0, le=1_000)
    has_dial: bool = False

    def wishes(self, counts: tuple[int, ...] = (1,)) -> ShelfWishes:
        """These wishes as the core has them."""
        limits = Limits(self.budget, self.circuit_w, self.bears_kg, self.has_dial)
        return ShelfWishes(limits, counts, self.years, self.days_a_year)


class ShelfIn(OwnershipIn):
    """Which lamps are ranked, and how many of each; all of the grower's without a list."""

    counts: list[Literal[1, 2, 3, 4]] = Field([1], min_length=1)
    fixture_ids: list[Id] | None = Field(None, max_length=1000)
    in_part: bool = Field(False, description="more will be asked for: estimates are enough")


class ComparedLampIn(Strict):
    fixture_id: Id
    count: Literal[1, 2, 3, 4] = 1


class CompareIn(OwnershipIn):
    """Lamps to put side by side; ``present`` is the place of the one there now, not bought."""

    lamps: list[ComparedLampIn] = Field(min_length=2, max_length=4)
    present: int | None = Field(None, ge=0, le=3)


class CostOut(Schema):
    purchase: float
    energy: float
    replacement: float
    replaced: int
    kwh: float
    mol: float
    total: float
    per_mol: float | None


class ShelfRowOut(Schema):
    fixture_id: int
    name: str
    count: int
    refused: str
    meets: bool
    exact: bool = Field(description="as the bench has it; else an estimate")
    cannot_be: bool = Field(description="its claims cannot be: never recommended")
    ppf_umol_s: float = Field(description="the light it was ranked with, capped at what can be")
    trust: Trust
    findings: list[FindingOut]
    pareto: bool
    setting: SettingOut | None
    outcome: OutcomeOut | None
    relaxed: list[TargetName]
    obstacles: list[ObstacleOut]
    inside_share: float
    reserve: float
    reserve_aged: float
    ppfd_low: float
    ppfd_high: float
    floor: list[list[float]]
    floor_x_cm: list[float]
    floor_y_cm: list[float]
    heat_btu_per_h: float
    cooling: Literal["", "still", "fan"]
    purchase: float | None
    cost: CostOut | None


class ShelfOut(Schema):
    stage_id: int
    stage: str
    dli_low: float
    dli_high: float
    x_cm: list[float]
    y_cm: list[float]
    rows: list[ShelfRowOut]


class FloorDifferenceOut(Schema):
    mean: float
    largest: float
    brighter: float
    dimmer: float
    floor: list[list[float]]


class CostPointOut(Schema):
    year: float
    cost: float


class CompareOut(ShelfOut):
    """Rows in the order asked; what goes with them in lists of the same length."""

    cheapest: int | None
    lines: list[list[CostPointOut] | None]
    payback_years: list[float | None]
    differences: list[FloorDifferenceOut | None]
    notes: list[SaidOut]
