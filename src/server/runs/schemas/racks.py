"""A rack of shelves with the plans on its levels."""

import datetime

from ninja import Schema

from server.runs.schemas.levers import GroupOut, OutcomeOut, SettingOut, WindowOut


class LevelOut(Schema):
    """A level on a day; without a plan, or one that cannot be, only the space."""

    space_id: int
    tier: int
    name: str
    height_cm: float
    board_through: float
    run_id: int | None
    run_name: str
    begun: bool
    on: datetime.date | None
    stage_id: int | None
    stage: str
    refused: str
    setting: SettingOut | None
    outcome: OutcomeOut | None
    fits: bool
    tops_cm: float
    lamp_cm: float
    windows: list[WindowOut]
    groups: list[GroupOut]
    above_dli: float
    cost_per_day: float
    currency: str
    watts: float


class RackAnswerOut(Schema):
    """A rack on a day, its levels from the top; no currency where they pay in several."""

    rack_id: int
    name: str
    day: datetime.date
    levels: list[LevelOut]
    kwh_per_day: float
    cost_per_day: float
    currency: str
    most_watts: float
    most_at_minute: int
