"""Lamps where they hang."""

from ninja import Schema
from pydantic import Field

from server.common.schemas import Id, Strict, within
from server.fixtures.schemas import LightSource
from server.runs.adapters.bench import LAMP_LIMITS, MOST_GROUPS
from server.runs.adapters.standing import MOST_LAMPS


class LampIn(Strict):
    """One lamp where it hangs; without a dial of its own it follows the rail's."""

    fixture_id: Id
    piece_id: Id | None = Field(None, description="which of the grower's own lamps it is")
    x_cm: float = within(LAMP_LIMITS["x_cm"])
    y_cm: float = within(LAMP_LIMITS["y_cm"])
    turn_deg: float = within(LAMP_LIMITS["turn_deg"], default=0)
    tilt_deg: float = within(LAMP_LIMITS["tilt_deg"], default=0)
    raise_cm: float = within(LAMP_LIMITS["raise_cm"], default=0)
    bars_off: list[int] = Field(default_factory=list, max_length=40)
    own_dial_pct: float | None = Field(None, ge=0, le=100)
    group: int = Field(0, ge=0, le=MOST_GROUPS, description="0: set by the rails")


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
    group: int
    rated_watts: float
    measured_watts: float | None
    piece_name: str
