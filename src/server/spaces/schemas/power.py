"""Circuits, prices, and what carries and cools a space's lamps."""

from datetime import date, datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field, StringConstraints

from server.common.schemas import Currency, Id, Name, Strict, within
from server.spaces.adapters import (
    MOST_BANDS,
    MOST_TIERS,
    PRICE,
    TARIFF_LIMITS,
    TIER_LIMITS,
    wire_gauge,
)
from server.spaces.models import Circuit, PriceFile, Space
from server.spaces.schemas import TariffBandIn

Amps = Annotated[float, Field(gt=0, le=400)]
LimitName = Literal[
    "breaker_a", "continuous_share", "plug_a", "strip_a", "timer_a", "cord_a", "lead_mm2"
]
LimitOrigin = Literal["usual", "label", "code", "assumed"]
"""A preset's, read on the part, asked of local code, or a guess."""


class LoadIn(Strict):
    """Something on the circuit beside the lamps; watts and amps while it runs, of all of them."""

    name: Name
    watts: float = Field(ge=0, le=20_000)
    power_factor: float = Field(0.95, ge=0.05, le=1)
    amps: float | None = Field(None, ge=0, le=400)
    count: int = Field(1, ge=1, le=20)
    duty: float = Field(1, ge=0, le=1)
    inrush_a: float | None = Field(None, ge=0, le=2000)
    hours: float = Field(24, ge=0, le=24)
    timed: bool = False


class CircuitIn(Strict):
    """A circuit: what its parts are made for, and what runs on it besides."""

    name: Name
    volts: float = Field(ge=50, le=500)
    breaker_a: Amps
    continuous_share: float = Field(0.8, ge=0.1, le=1)
    plug_a: Amps | None = None
    strip_a: Amps | None = None
    timer_a: Amps | None = None
    cord_a: Amps | None = None
    lead_m: float | None = Field(None, ge=0, le=500)
    lead_mm2: float | None = Field(None, gt=0, le=50)
    lead_gauge: float | None = Field(
        None, ge=0, le=30, description="its American gauge, where its copper is not given in mm2"
    )
    chained: bool = False
    loads: list[LoadIn] = Field(default_factory=list, max_length=20)
    origins: dict[LimitName, LimitOrigin] = Field(default_factory=dict)


class CircuitOut(CircuitIn):
    id: int
    version: int
    removed: bool

    @staticmethod
    def resolve_lead_gauge(circuit: Circuit) -> float | None:
        return None if circuit.lead_mm2 is None else wire_gauge(circuit.lead_mm2)


class PresetOut(Schema):
    """Usual limits of a household circuit."""

    volts: float
    breaker_a: float
    continuous_share: float
    plug_a: float | None
    strip_a: float | None
    timer_a: float | None
    cord_a: float | None


class MountIn(Strict):
    """What carries the lamps, and where their cords end."""

    rating_kg: float | None = Field(None, gt=0, le=1000)
    besides_kg: float = Field(0, ge=0, le=500)
    hangers: Literal[1, 2, 4] | None = Field(None, description="of each lamp; by its size without")
    drivers_outside: bool | None = Field(None, description="as the lamp's record without")
    corner: Literal["front-left", "front-right", "back-left", "back-right"] = "back-left"
    socket_cm: float = Field(60, ge=0, le=400)
    away_cm: float = Field(50, ge=0, le=3000)
    sheet_price: float | None = Field(None, ge=0, le=1_000_000)


class AirIn(Strict):
    """Air through the tent and the room, what it may be warmer, and heating saved in winter."""

    fan_m3_h: float | None = Field(None, gt=0, le=20_000)
    room_m3_h: float | None = Field(None, gt=0, le=100_000)
    wanted_rise_k: float | None = Field(None, gt=0, le=40)
    other_watts: float = Field(0, ge=0, le=20_000)
    heated_share: float = Field(0, ge=0, le=1)
    heat_per_kwh: float = Field(0, ge=0, le=100)


class SpacePowerIn(Strict):
    """A space's circuit, and what carries and cools its lamps."""

    circuit_id: Id | None = None
    mount: MountIn
    air: AirIn


class SpacePowerOut(Schema):
    space_id: int
    version: int
    circuit_id: int | None
    mount: MountIn
    air: AirIn
    prices: "PricesOut | None"

    @staticmethod
    def of(space: Space) -> "SpacePowerOut":
        """Return a space's, as it now stands."""
        kept = space.present_prices()
        return SpacePowerOut(
            space_id=space.pk,
            version=space.version,
            circuit_id=space.circuit_id,
            mount=MountIn(**space.mount),
            air=AirIn(**space.air),
            prices=PricesOut.of(kept) if kept is not None and kept.per_kwh else None,
        )


class TierIn(Strict):
    above_kwh: float = within(TIER_LIMITS["above_kwh"])
    adds_per_kwh: float = within(TIER_LIMITS["adds_per_kwh"])


class TariffIn(Strict):
    """What power costs from a day on; today without."""

    holds_from: date | None = None
    currency: Currency | None = None
    per_kwh: float = within(PRICE)
    bands: list[TariffBandIn] = Field(default_factory=list, max_length=MOST_BANDS)
    tiers: list[TierIn] = Field(default_factory=list, max_length=MOST_TIERS)
    standing_per_day: float = within(TARIFF_LIMITS["standing_per_day"], default=0)
    other_kwh_a_day: float = within(TARIFF_LIMITS["other_kwh_a_day"], default=0)
    grid_g_per_kwh: float | None = within(TARIFF_LIMITS["grid_g_per_kwh"], default=None)


class PricesIn(Strict):
    """A file of hourly prices, and what comes on top of each; an empty one goes without."""

    text: Annotated[str, StringConstraints(max_length=4_000_000)] = ""
    adds_per_kwh: float = Field(0, ge=-100, le=100)


class PricesOut(Schema):
    """Hourly prices a space has: from when until when, and their span."""

    first: datetime
    until: datetime
    hours: int
    lowest: float
    highest: float
    mean: float
    below_zero: int
    adds_per_kwh: float

    @staticmethod
    def of(row: PriceFile) -> "PricesOut":
        """Return what a kept file holds."""
        prices = row.per_kwh
        return PricesOut(
            first=row.first,
            until=row.until,
            hours=len(prices),
            lowest=min(prices),
            highest=max(prices),
            mean=sum(prices) / len(prices),
            below_zero=sum(price < 0 for price in prices),
            adds_per_kwh=row.adds_per_kwh,
        )
