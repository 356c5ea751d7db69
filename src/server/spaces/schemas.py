"""What spaces exchange."""

from typing import Literal

from ninja import Schema
from pydantic import Field

from server.common.schemas import Name, Strict
from server.spaces.adapters import HEIGHT_CM as HEIGHT_CM
from server.spaces.adapters import SIDE_CM as SIDE_CM


class StandIn(Strict):
    """A step that lifts plants; x and y are its front left corner."""

    x_cm: float = Field(ge=0, le=SIDE_CM[1])
    y_cm: float = Field(ge=0, le=SIDE_CM[1])
    width_cm: float = Field(gt=0, le=SIDE_CM[1])
    depth_cm: float = Field(gt=0, le=SIDE_CM[1])
    raise_cm: float = Field(gt=0, le=200)


class PlotIn(Strict):
    """A part of the floor where plants stand; x and y are its front left corner."""

    x_cm: float = Field(ge=0, le=SIDE_CM[1])
    y_cm: float = Field(ge=0, le=SIDE_CM[1])
    width_cm: float = Field(gt=0, le=SIDE_CM[1])
    depth_cm: float = Field(gt=0, le=SIDE_CM[1])


class TariffBandIn(Strict):
    from_minute: int = Field(ge=0, lt=1440)
    to_minute: int = Field(ge=0, le=1440)
    per_kwh: float = Field(ge=0, le=1000)


class MeasuredDaylightIn(Strict):
    """Daylight read with a sensor, as a day's sum."""

    kind: Literal["measured"]
    dli: float = Field(ge=0, le=80)
    sunrise_min: int = Field(ge=0, lt=1440)
    sunset_min: int = Field(gt=0, le=1440)


class ReckonedDaylightIn(Strict):
    """Daylight reckoned from place and date, through a window or cover."""

    kind: Literal["reckoned"]
    latitude_deg: float
    longitude_deg: float
    utc_offset_h: float = 0
    tilt_deg: float = 90
    azimuth_deg: float = 180
    transmission: float = 0.6
    cloud_factor: float = 0.6
    reach: float = 0.3


class HeatIn(Strict):
    """A controller that switches the lamp off in the heat."""

    off_above_c: float = Field(ge=10, le=60)
    mean_c: float = Field(ge=-20, le=50)
    swing_c: float = Field(ge=0, le=40)


class SpaceIn(Strict):
    name: Name
    width_cm: float = Field(ge=SIDE_CM[0], le=SIDE_CM[1])
    depth_cm: float = Field(ge=SIDE_CM[0], le=SIDE_CM[1])
    height_cm: float = Field(ge=HEIGHT_CM[0], le=HEIGHT_CM[1])
    lining: str = Field(max_length=20)
    lining_left: str = Field("", max_length=20)
    lining_right: str = Field("", max_length=20)
    lining_front: str = Field("", max_length=20)
    lining_back: str = Field("", max_length=20)
    stands: list[StandIn] = Field(default_factory=list, max_length=24)
    plots: list[PlotIn] = Field(default_factory=list, max_length=24)
    pot_cm: float = Field(ge=0, le=200)
    hangers_cm: float = Field(ge=0, le=100)
    co2_enriched: bool = False
    timer_step_min: Literal[1, 15, 30, 60] = 15
    currency: str = Field(min_length=1, max_length=8)
    tariff_per_kwh: float = Field(ge=0, le=1000)
    tariff_bands: list[TariffBandIn] = Field(default_factory=list, max_length=12)
    ramp_min: int = Field(0, ge=0, le=180)
    daylight: MeasuredDaylightIn | ReckonedDaylightIn | None = Field(None, discriminator="kind")
    heat: HeatIn | None = None


class SpaceOut(SpaceIn):
    id: int


class Lining(Schema):
    key: str
    label: str
    reflectance: float
    mirror_share: float
    low: float
    high: float
