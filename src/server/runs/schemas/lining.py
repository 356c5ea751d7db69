"""What lining would gain."""

from ninja import Schema

from server.runs.schemas.levers import SettingOut


class GainOut(Schema):
    middle: float
    edge: float
    mean: float
    dial_pct: float | None
    watts: float | None
    hours: float | None
    kwh_saved: float


class LiningGainOut(Schema):
    lining: str
    gain: GainOut
    saved_per_day: float


class LiningGainsOut(Schema):
    setting: SettingOut
    gains: list[LiningGainOut]
