"""What the ranking and the comparison exchange."""

from typing import Literal

from ninja import Schema
from pydantic import Field

from server.choosing.adapters.ranking import Limits, ShelfWishes
from server.common.schemas import Id, SaidOut, Strict
from server.fixtures.schemas import FindingOut, Trust
from server.runs.adapters.bench import TargetName
from server.runs.schemas.levers import ObstacleOut, OutcomeOut, SettingOut
from server.runs.schemas.season import AimName


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
    dli_aged: float = Field(description="a day's light at the end of the years, at full power")
    ppfd_low: float
    ppfd_high: float
    floor: list[list[float]]
    floor_x_cm: list[float]
    floor_y_cm: list[float]
    heat_btu_per_h: float
    cooling: Literal["", "still", "fan"]
    price_currency: str = Field(description="of its price, where that is not the tariff's")
    purchase: float | None
    cost: CostOut | None


class ShelfOut(Schema):
    stage_id: int
    stage: str
    dli_low: float
    dli_high: float
    currency: str
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


class PlansIn(Strict):
    """Other plans to put beside one, and the stage of this one they are looked at in."""

    run_ids: list[Id] = Field(min_length=1, max_length=3)
    stage_id: Id


class HungCountOut(Schema):
    name: str
    count: int


class FloorAtOut(Schema):
    """A floor on the first day of a stage, what over the plan's hours makes the day."""

    x_cm: list[float]
    y_cm: list[float]
    floor: list[list[float]]
    ppfd_low: float
    ppfd_high: float
    hot_spot_cap: float
    inside_share: float


class StageAtOut(Schema):
    name: str
    dli_low: float
    dli_high: float
    refused: str
    setting: SettingOut | None
    outcome: OutcomeOut | None
    relaxed: list[TargetName]
    floor: FloorAtOut | None


class SpaceAtOut(Schema):
    """The space a plan stands in, as it stands on it."""

    name: str
    lining: str
    lining_left: str
    lining_right: str
    lining_front: str
    lining_back: str
    width_cm: float
    depth_cm: float
    height_cm: float


class PlanBesideOut(Schema):
    """A plan with its season's sums; ``short`` are stages that miss a target or cannot be."""

    run_id: int
    space: SpaceAtOut
    crop: str
    currency: str
    aim: AimName
    lamps: list[HungCountOut]
    refused: str
    days: int
    kwh: float
    cost: float
    trips: int
    short: list[str]
    stage: StageAtOut | None


class PlansOut(Schema):
    """Plans in the order asked, and how each floor differs from the first one's."""

    plans: list[PlanBesideOut]
    differences: list[FloorDifferenceOut | None]


class CompareOut(ShelfOut):
    """Rows in the order asked; what goes with them in lists of the same length."""

    cheapest: int | None
    lines: list[list[CostPointOut] | None]
    payback_years: list[float | None]
    differences: list[FloorDifferenceOut | None]
    notes: list[SaidOut]
