"""Positions of the levers and what they give, on whatever screen."""

from datetime import date

from ninja import Schema
from pydantic import Field

from server.common.schemas import Strict
from server.runs.adapters.bench import Change, Lever, TargetName


class PartNameOut(Schema):
    """A stage, or a part of one from a day of it on; ``first_day`` counts from the run's."""

    id: int
    name: str
    from_day: int
    days: int
    first_day: int


class FitNamedOut(Schema):
    """The fit a run is planned by."""

    id: int
    read_on: date
    readings: int


class MadeOfOut(Schema):
    """What of its space and crop a run's screens name, as the run stands on it."""

    space: str
    crop: str
    currency: str
    timer_step_min: int
    ramp_min: int
    co2_enriched: bool
    first: date
    stages: list[PartNameOut]
    fit: FitNamedOut | None


class LeversIn(Strict):
    """One position of each lever; moved to the nearest that can be had."""

    height_cm: float = Field(ge=0, le=500)
    dial_pct: float = Field(ge=0, le=100)
    hours: float = Field(ge=0, le=24)
    locked: list[Lever] = Field(default_factory=list, max_length=3)


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


class WindowOut(Schema):
    """The lamp is on from a minute by the timer's clock, for so many hours."""

    on_minute: int
    hours: float


class GroupOut(Schema):
    """A group of lamps beside the rail's own; without ``own`` nothing is set for it.

    No windows: it is on with the rail's.
    """

    group: int
    lamps: int
    own: bool
    own_timer: bool
    dial_pct: float
    windows: list[WindowOut]
    watts: float
    kwh_per_day: float


class SwitchSetOut(Schema):
    """One of the lamp's switches as it stands: without ``dial_pct`` with the plan's dial, 0 off."""

    number: int
    name: str
    dimmed: bool
    fan: bool
    light_share: float
    watts_share: float
    dial_pct: float | None


class HangingOut(Schema):
    """A time during which the lamp hangs still; days of the stage from 0, the last one included."""

    day: int
    last_day: int
    above_floor_cm: float
    above_tops_cm: float
    left_cm: float
    by_cm: float
    dial_pct: float
