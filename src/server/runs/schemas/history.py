"""Settings as they were planned, set and measured."""

from datetime import datetime
from typing import Literal

from ninja import Schema
from pydantic import AwareDatetime, Field

from server.common.schemas import Id, Strict, within
from server.runs.adapters.bench import MINUTE, Lever

Kind = Literal["planned", "set", "measured"]


class WindowIn(Strict):
    """The lamp is on: from a minute by the timer's clock, for so many hours."""

    on_minute: int = within(MINUTE)
    hours: float = Field(gt=0, le=24)


class PastSettingIn(Strict):
    """What was set or measured at the tent; now, without a moment."""

    stage_id: Id
    kind: Literal["set", "measured"]
    holds_from: AwareDatetime | None = None
    level: int = Field(0, ge=0, le=20)
    group: int = Field(0, ge=0, le=50)
    channel: int | None = Field(None, ge=0, le=11)
    windows: list[WindowIn] = Field(min_length=1, max_length=12)
    height_cm: float | None = Field(None, ge=0, le=500)
    dial_pct: float | None = Field(None, ge=0, le=100)
    watts: float | None = Field(None, ge=0, le=20_000)


class PastSettingOut(Schema):
    """One setting of a run's history."""

    id: int
    stage_id: int
    plan_number: int
    level: int
    group: int
    channel: int | None
    kind: Kind
    from_day: int
    holds_from: datetime | None
    windows: list[WindowIn]
    height_cm: float | None
    dial_pct: float | None
    watts: float | None
    locked: list[Lever]
    freed: bool
    made_at: datetime
