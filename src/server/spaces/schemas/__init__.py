"""What spaces exchange."""

from datetime import date
from typing import Annotated, Any, ClassVar, Literal

from ninja import Schema
from pydantic import ConfigDict, Field, StringConstraints

from server.common.schemas import Currency, Name, Strict, Surroundings, within
from server.spaces.adapters import (
    CEILING,
    DAYLIGHT_DLI,
    HEAT_LIMITS,
    MOST_LEVELS,
    PRICE,
    RAISE_CM,
    SPACE_LIMITS,
    STAND_LIMITS,
    THROUGH,
)
from server.spaces.models import Space

DayOfYear = Annotated[str, StringConstraints(pattern=r"^(\d\d-\d\d)?$")]
"""Like 10-31; empty for none."""


class PlotIn(Strict):
    """A part of the floor where plants stand; x and y are its front left corner."""

    x_cm: float = within(STAND_LIMITS["x_cm"])
    y_cm: float = within(STAND_LIMITS["y_cm"])
    width_cm: float = within(STAND_LIMITS["width_cm"], above=True)
    depth_cm: float = within(STAND_LIMITS["depth_cm"], above=True)


class StandIn(PlotIn):
    """A step that lifts plants; x and y are its front left corner."""

    raise_cm: float = within(RAISE_CM, above=True)


class TariffBandIn(Strict):
    from_minute: int = Field(ge=0, lt=1440)
    to_minute: int = Field(ge=0, le=1440)
    per_kwh: float = within(PRICE)
    days: Literal["all", "workdays", "weekend"] = "all"
    first: DayOfYear = ""
    last: DayOfYear = ""


class PriceSpanOut(Schema):
    """A part of the day with one price, which may be below nothing."""

    from_minute: int
    to_minute: int
    per_kwh: float


class MeasuredDaylightIn(Strict):
    """Daylight read with a sensor, as a day's sum."""

    kind: Literal["measured"]
    dli: float = within(DAYLIGHT_DLI)
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

    off_above_c: float = within(HEAT_LIMITS["off_above_c"])
    mean_c: float = within(HEAT_LIMITS["mean_c"])
    swing_c: float = within(HEAT_LIMITS["swing_c"])


class SpaceIn(Surroundings):
    """A space; a price that differs from the present one holds from ``tariff_from``, or today."""

    answers_only: ClassVar[frozenset[str]] = frozenset(
        {"id", "version", "removed", "tariffs", "rack_id", "tier", "circuit_id"}
    )

    name: Name
    width_cm: float = within(SPACE_LIMITS["width_cm"])
    depth_cm: float = within(SPACE_LIMITS["depth_cm"])
    height_cm: float = within(SPACE_LIMITS["height_cm"])
    stands: list[StandIn] = Field(default_factory=list, max_length=24)
    plots: list[PlotIn] = Field(default_factory=list, max_length=24)
    pot_cm: float = within(SPACE_LIMITS["pot_cm"])
    hangers_cm: float = within(SPACE_LIMITS["hangers_cm"])
    ceiling_reflectance: float | None = Field(
        None,
        ge=CEILING.low,
        le=CEILING.high,
        description="of the board above; as the lining without",
    )
    board_through: float = within(THROUGH, default=0)
    lamps_fixed: bool = False
    co2_enriched: bool = False
    timer_step_min: Literal[1, 15, 30, 60] = 15
    follows_summer_time: bool = False
    currency: Currency | None = Field(None, description="of the price; the grower's own without")
    tariff_per_kwh: float = within(PRICE)
    tariff_bands: list[TariffBandIn] = Field(default_factory=list, max_length=12)
    tariff_from: date | None = None
    ramp_min: int = within(SPACE_LIMITS["ramp_min"], default=0)
    daylight: MeasuredDaylightIn | ReckonedDaylightIn | None = Field(None, discriminator="kind")
    heat: HeatIn | None = None


class TariffOut(Schema):
    """What power costs from a day on."""

    holds_from: date
    currency: str
    per_kwh: float
    bands: list[TariffBandIn]
    tiers: list[dict[str, float]]
    standing_per_day: float
    other_kwh_a_day: float
    grid_g_per_kwh: float | None


class SpaceOut(SpaceIn):
    """A space with the price that holds today, and every one there was or will be."""

    model_config = ConfigDict(extra="ignore")
    answers_only: ClassVar[frozenset[str]] = frozenset()

    id: int
    version: int
    removed: bool
    rack_id: int | None
    tier: int
    circuit_id: int | None
    currency: str
    tariffs: list[TariffOut]

    @staticmethod
    def resolve_currency(space: Space) -> str:
        return space.present_tariff().currency

    @staticmethod
    def resolve_tariff_per_kwh(space: Space) -> float:
        return space.present_tariff().per_kwh

    @staticmethod
    def resolve_tariff_bands(space: Space) -> list[Any]:
        bands: list[Any] = space.present_tariff().bands
        return bands

    @staticmethod
    def resolve_tariff_from(space: Space) -> date:
        return space.present_tariff().holds_from


class RackIn(Strict):
    """A rack: how high each level is, lowest first, and what all of them are like."""

    name: Name
    clear_cm: list[Annotated[float, within(SPACE_LIMITS["height_cm"])]] = Field(
        min_length=1, max_length=MOST_LEVELS
    )
    level: SpaceIn


class LevelIn(Strict):
    """One level more, on top."""

    clear_cm: float = within(SPACE_LIMITS["height_cm"])


class NamedIn(Strict):
    """What a rack, or the copy of a space, is called."""

    name: Name


class RackOut(Schema):
    """A rack and its levels, the lowest first."""

    id: int
    version: int
    removed: bool
    name: str
    levels: list[SpaceOut]


class Lining(Schema):
    key: str
    label: str
    reflectance: float
    mirror_share: float
    low: float
    high: float
