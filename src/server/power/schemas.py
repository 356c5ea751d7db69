"""What Power and Install exchange."""

from datetime import date, datetime
from typing import Literal

from ninja import Schema
from pydantic import Field

from server.common.schemas import Name, SaidOut, Strict
from server.power.adapters.install import ReadingName, StepName
from server.runs.schemas.levers import WindowOut


class UseOut(Schema):
    """What some days of light take; a mol is one on the canopy."""

    days: int
    kwh: float
    cost: float
    carbon_kg: float | None
    mol: float
    kwh_a_day: float
    cost_a_day: float
    cost_a_mol: float | None


class GroupDrawOut(Schema):
    group: int
    watts: float
    windows: list[WindowOut]
    kwh: float
    cost: float


class WayOut(Schema):
    """One way to give the same light, and what is in its way."""

    height_cm: float
    dial_pct: float
    hours: float
    on_minute: int
    dli: float
    watts: float
    kwh: float
    cost: float
    hindrance: Literal["", "hours", "dial", "cap", "dli", "ppfd", "evenness"]


class SameLightOut(Schema):
    dli: float
    now: WayOut
    here: list[WayOut]
    anywhere: list[WayOut]


class ElectricalOut(Schema):
    volts: float
    amps: float
    watts: float
    va: float
    power_factor: float
    measured: bool


class DrawnLoadOut(ElectricalOut):
    name: str
    timed: bool


class StrainOut(Schema):
    part: Literal["breaker", "continuous", "plug", "strip", "timer", "cord", "lead"]
    limit_a: float
    drawn_a: float
    over: bool


class CircuitCheckOut(Schema):
    total: ElectricalOut
    strains: list[StrainOut]
    drop_volts: float | None
    inrush_a: float
    starts: list[list[str]]
    findings: list[SaidOut]
    over: bool


class CircuitAnswerOut(Schema):
    circuit_id: int
    name: str
    check: CircuitCheckOut
    loads: list[DrawnLoadOut]


class WarmthOut(Schema):
    tent_watts: float
    room_watts: float
    tent_rise_k: float | None
    room_rise_k: float | None
    wanted_flow_m3_h: float | None


class HeatOut(Schema):
    watts: float
    btu_per_h: float
    warmth: WarmthOut
    wanted_cfm: float | None
    heating_saved: float
    cool_on_minute: int


class LegOut(Schema):
    part: Literal["up", "along", "down", "out", "loop"]
    cm: float


class CordOut(Schema):
    legs: list[LegOut]
    needed_cm: float
    cord_cm: float | None
    missing_cm: float
    reaches_from_cm: float | None


class CarriedLampOut(Schema):
    name: str
    weight_kg: float
    hangers: int
    share_kg: float
    worst_kg: float
    marks_cm: list[list[float]]
    corners_cm: list[list[float]]
    face_cm: float
    cord: CordOut
    sold_apart: str


class WeighedOut(Schema):
    total_kg: float
    rating_kg: float | None
    spare_kg: float | None
    over: bool


class TravelOut(Schema):
    lowest_cm: float
    highest_cm: float
    rope_cm: float
    travel_cm: float
    short_cm: float


class CarriedOut(Schema):
    weight: WeighedOut
    lamps: list[CarriedLampOut]
    ratchets: TravelOut
    fits_to_the_end: bool


class PowerOut(Schema):
    """What a run's light costs and draws, at a stage and over its season."""

    stage_id: int
    stage: str
    currency: str
    findings: list[SaidOut]
    said: list[SaidOut]
    day: UseOut
    whole_stage: UseOut
    season: UseOut
    plants: int | None
    each: float | None
    standing_per_day: float
    prices_known_until: date | None
    groups: list[GroupDrawOut]
    most_watts: float
    most_at_minute: int
    watts_lowest: float
    measured_watts: bool
    same: SameLightOut
    cheapest_here: WayOut
    cheapest: WayOut
    dimming_saves: float
    twelve: WayOut | None
    eighteen: WayOut | None
    circuit: CircuitAnswerOut | None
    heat: HeatOut
    hanging: CarriedOut


class SheetOut(Schema):
    """What a reflective sheet saves, and when its price is back."""

    lining: str
    saved_per_day: float
    days: float | None


class PlantsIn(Strict):
    """How many plants share what a run costs."""

    plants: int | None = Field(None, ge=1, le=100_000)


class TickIn(Strict):
    """What was read at a step; temperatures in degrees Celsius, minutes after midnight."""

    watts: float | None = None
    volts: float | None = None
    amps: float | None = None
    sink_c: float | None = None
    driver_c: float | None = None
    room_c: float | None = None
    tent_c: float | None = None
    on_minute: float | None = None
    off_minute: float | None = None
    second_on_minute: float | None = None
    second_off_minute: float | None = None
    by: Name | None = Field(None, description="the device that read it, where no person did")


class VerdictOut(Schema):
    well: bool
    lines: list[SaidOut]


class OfferOut(Schema):
    """What a device reads just now that a step asks for."""

    by: str
    at: datetime
    readings: dict[str, float]


class StepOut(Schema):
    """A step; ``asks`` is what is read, ``verdict`` what that says of the plan."""

    name: StepName
    safety: bool
    lines: list[SaidOut]
    asks: list[ReadingName]
    done_at: datetime | None
    readings: dict[str, float]
    by: str
    offers: list[OfferOut]
    verdict: VerdictOut | None


class ChannelOut(Schema):
    group: int
    on_minute: int
    off_minute: int
    hours: float
    dial_pct: float


class InstallOut(Schema):
    """The steps of hanging a run's lamps, and what they are drawn by."""

    run_id: int
    space: str
    lamp: str
    steps: list[StepOut]
    left: list[StepName]
    width_cm: float
    depth_cm: float
    height_cm: float
    tops_cm: float
    body_cm: float
    corner: Literal["front-left", "front-right", "back-left", "back-right"]
    socket_cm: float
    away_cm: float
    driver_outside: bool
    hanging: CarriedOut
    channels: list[ChannelOut]


class LeftOut(Schema):
    """The steps that keep somebody safe and are not done yet, of one run."""

    run_id: int
    steps: list[StepName]
