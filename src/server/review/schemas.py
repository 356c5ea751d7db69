"""What the Review place exchanges."""

from datetime import date
from typing import Literal

from ninja import Schema
from pydantic import Field

from server.common.schemas import SaidOut, Strict
from server.review.adapters.drift import ShownCode


class SumsOut(Schema):
    """Days together: light as means a day, energy and money as sums.

    ``metered_days`` are those whose energy a meter told; of the others it is reckoned.
    """

    first_day: int
    days: int
    known_days: int
    inside_days: int
    below_days: int
    above_days: int
    planned_dli: float | None
    dli: float | None
    dli_low: float | None
    dli_high: float | None
    mol_m2: float
    planned_kwh: float | None
    planned_cost: float | None
    kwh: float
    cost: float
    metered_days: int
    planned_trips: int
    moves: int


class GrownOut(Schema):
    """How a stage was lived; heights of plants only where they were measured."""

    days: int
    plant_start_cm: float | None
    plant_end_cm: float | None


class StageReviewOut(Schema):
    stage_id: int
    name: str
    dli_low: float
    dli_high: float
    planned_days: int
    sums: SumsOut
    grown: GrownOut
    planned_start_cm: float
    planned_end_cm: float
    done: bool = Field(description="it has ended as stages do: not under way, and not given up")


class SharesOut(Schema):
    """What a run cost by plant, by unit harvested and by mol on the canopy, where it is known."""

    kwh_a_plant: float | None
    cost_a_plant: float | None
    kwh_a_unit: float | None
    cost_a_unit: float | None
    units_a_kwh: float | None
    units_a_mol: float | None
    cost_a_mol: float | None
    carbon_kg: float | None


class ReviewDayOut(Schema):
    """A day's light, planned and given."""

    on: date
    stage: int = Field(description="its place among the stages")
    planned_dli: float | None
    known: bool
    dli: float
    low: float
    high: float


class SignOut(Schema):
    """What plants showed, what was tried, and what came of it."""

    on: date
    values: dict[str, float | str]
    tried: str
    tried_on: date | None
    outcome: str
    outcome_text: str


class TaughtFitOut(Schema):
    id: int
    read_on: date
    readings: int
    lines: list[SaidOut]


class ReviewOut(Schema):
    """A run looked back on; ``differs`` tells that stages were lived otherwise than planned."""

    run_id: int
    over: bool
    begun_on: date
    last_on: date
    currency: str
    days: list[ReviewDayOut]
    stages: list[StageReviewOut]
    whole: SumsOut
    shares: SharesOut
    plants: int | None
    harvest: float | None
    harvest_unit: Literal["", "g", "pieces"]
    ended_how: Literal["", "harvested", "given_up"]
    signs: list[SignOut]
    fits: list[TaughtFitOut]
    taught: list[SaidOut]
    differs: bool
    lines: list[SaidOut]


class DriftPointOut(Schema):
    """What is left of the first walk's light, nine times in ten inside."""

    on: date
    low: float
    middle: float
    high: float


class WalkPointOut(Schema):
    """What a walk by itself showed of the first one's light, put to one height and dial."""

    on: date
    share: float
    readings: int


class DriftCauseOut(Schema):
    code: ShownCode
    name: SaidOut
    likelihood: float
    do: SaidOut


class DriftOut(Schema):
    """What lamp and lining have lost, why, and for how long it lasts."""

    walks: list[WalkPointOut]
    course: list[DriftPointOut]
    lines: list[SaidOut]
    causes: list[DriftCauseOut]
    left_out: int = Field(description="walks of another tent, or of the lamp elsewhere")
    lost: bool


class NextIn(Strict):
    """Whether stages are to last, and plants to rise, as they did."""

    as_grown: bool = True
