"""What sums exchange."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from server.common.schemas import Id, SaidOut, Strict
from server.fixtures.schemas import MapStatisticsOut
from server.sums.adapters import MOST_SIDE, MOST_TEXT

Ppfd = Annotated[float, Field(ge=0, le=20_000)]
Dli = Annotated[float, Field(ge=0, le=200)]
Hours = Annotated[float, Field(ge=0, le=24)]
Step = Literal[1, 15, 30, 60]


class DliIn(Strict):
    """The day's sum of a PPFD over hours."""

    kind: Literal["dli"]
    ppfd: Ppfd
    hours: Hours


class HoursIn(Strict):
    """The hours for a DLI, on a timer."""

    kind: Literal["hours"]
    dli: Dli
    ppfd: Ppfd
    step_min: Step = 15


class PpfdIn(Strict):
    """The PPFD for a DLI over hours."""

    kind: Literal["ppfd"]
    dli: Dli
    hours: Hours


class CostIn(Strict):
    """What watts, hours and days cost, in all and a plant."""

    kind: Literal["cost"]
    watts: float = Field(ge=0, le=100_000)
    hours: Hours
    days: float = Field(ge=0, le=3660)
    per_kwh: float = Field(ge=0, le=1000)
    plants: int = Field(1, ge=1, le=100_000)


class DialIn(Strict):
    """What a lamp gives and draws at a position of its dial."""

    kind: Literal["dial"]
    fixture_id: Id
    dial_pct: float = Field(ge=0, le=100)


class LuxIn(Strict):
    """The lux of a PPFD by a lamp."""

    kind: Literal["lux"]
    fixture_id: Id
    ppfd: Ppfd


class FromLuxIn(Strict):
    """The PPFD of lux by a lamp."""

    kind: Literal["from_lux"]
    fixture_id: Id
    lux: float = Field(ge=0, le=2_000_000)


class MeasuresIn(Strict):
    """A length in inches, and a figure per square metre per square foot."""

    kind: Literal["measures"]
    cm: float = Field(ge=0, le=1_000_000)
    per_m2: float = Field(ge=0, le=1_000_000)


class SumIn(Strict):
    """One of the sums."""

    asked: DliIn | HoursIn | PpfdIn | CostIn | DialIn | LuxIn | FromLuxIn | MeasuresIn = Field(
        discriminator="kind"
    )


class WorkedOut(Schema):
    """A sum's figures by their names, and how it was worked out."""

    figures: dict[str, float]
    formula: list[SaidOut]


Row = Annotated[list[Ppfd | None], Field(min_length=1, max_length=MOST_SIDE)]


class MapSumIn(Strict):
    """A light map typed in, or pasted; the first row is the back, as seen from above.

    With a distance it is given back as a map table too.
    """

    rows: list[Row] | None = Field(None, min_length=1, max_length=MOST_SIDE)
    text: str = Field("", max_length=MOST_TEXT)
    places: Literal["cells", "edges", "inset"] = "cells"
    inset_x_cm: float = Field(0, ge=0, le=500)
    inset_y_cm: float = Field(0, ge=0, le=500)
    width_cm: float = Field(100, ge=1, le=1000)
    depth_cm: float = Field(100, ge=1, le=1000)
    distance_cm: float | None = Field(None, ge=1, le=500)
    dial_pct: float | None = Field(None, ge=0, le=100)
    dli: Dli = 12
    timer_step_min: Step = 15


class MapSumOut(WorkedOut):
    rows: list[list[float | None]]
    x_cm: list[float]
    y_cm: list[float]
    count: int
    total: float
    statistics: MapStatisticsOut
    notes: list[SaidOut]
    table: str
