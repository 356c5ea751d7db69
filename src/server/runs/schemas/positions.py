"""Heights and dials as a table."""

from ninja import Schema
from pydantic import Field


class PositionOut(Schema):
    """What one height and dial gives where plants stand."""

    height_cm: float
    dial_pct: float
    mean: float
    area_mean: float
    brightest: float
    dimmest: float
    min_over_max: float | None
    min_over_mean: float | None
    dli: float
    watts: float
    efficacy_umol_j: float | None = Field(description="light on the canopy for a joule")
    captured: float | None


class PositionsOut(Schema):
    """Heights and dials round a setting, and both as CSV to keep."""

    at: PositionOut
    heights: list[PositionOut]
    dials: list[PositionOut]
    height_text: str
    dial_text: str
