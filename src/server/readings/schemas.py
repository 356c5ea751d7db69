"""What readings exchange."""

from datetime import date, datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field, StringConstraints

from server.common.schemas import Id, Name, SaidOut, Strict
from server.fixtures.schemas import MapStatisticsOut
from server.readings.adapters.dials import MOST_POSITIONS, MOST_SPOTS
from server.readings.adapters.fits import MOST_READINGS
from server.readings.adapters.sensors import FACTOR, MOST_PAIRS, CorrectionName, SensorKind

Wall = Literal["", "left", "right", "front", "back"]
Light = Annotated[float, Field(ge=0, le=1e6)]
Pair = Annotated[list[Light], Field(min_length=2, max_length=2)]
"""A sensor's reading and a trusted one of the same light."""

Length = Annotated[float, Field(ge=0, le=1000)]


class SensorIn(Strict):
    """A light sensor; what is not known of its calibration stays empty."""

    name: Name
    kind: SensorKind
    factor: float | None = Field(None, ge=FACTOR[0], le=FACTOR[1])
    calibrated_on: date | None = None
    pairs: list[Pair] = Field(default_factory=list, max_length=MOST_PAIRS)
    height_cm: float = Field(0, ge=0, le=20)


class SensorOut(SensorIn):
    id: int
    version: int
    removed: bool


class ReadingIn(Strict):
    """One reading: where, how high the lamp hung above the sensor's plane, and what was shown."""

    x_cm: Length
    y_cm: Length
    height_cm: float = Field(ge=1, le=1000)
    dial_pct: float | None = Field(None, ge=0, le=100)
    reading: Light


class SpotIn(Strict):
    """Where a reading is to be taken."""

    x_cm: Length
    y_cm: Length
    height_cm: float = Field(ge=1, le=1000)


class FitIn(Strict):
    """Readings of all lamps that follow the rail, or one of the grower's maps of a lamp here."""

    rows: list[ReadingIn] = Field(default_factory=list, max_length=MOST_READINGS)
    spots: list[SpotIn] = Field(
        default_factory=list,
        max_length=MOST_READINGS,
        description="all that are to be read, so that the tent is prepared for them once",
    )
    map_id: Id | None = None
    sensor_id: Id | None = None
    left_out: list[CorrectionName] = Field(default_factory=list, max_length=8)
    plane_cm: Length | None = Field(None, description="the sensor's plane above the floor")
    floor_reflectance: float | None = Field(None, ge=0, le=0.99)
    edge_cm: float | None = Field(None, ge=0, le=100)
    daylight: bool = False
    open_read: Wall = ""
    open_now: Wall = ""
    read_on: date | None = None
    note: Annotated[str, StringConstraints(max_length=200)] = ""
    height_cm: float | None = Field(None, ge=1, le=1000, description="where to answer for")


class ExpectIn(FitIn):
    """A walk under way: what was read so far, if anything, and all spots."""

    dial_pct: float | None = Field(None, ge=0, le=100, description="where nothing was read yet")


class ExpectedOut(Schema):
    """What the sensor will show at a spot, and between which figures a reading is believed."""

    low: float
    middle: float
    high: float


class FitChoiceIn(Strict):
    """The fit a space is planned by; none: by the lamps' records."""

    fit_id: Id | None


class FitRowOut(Schema):
    """A fit that is kept."""

    id: int
    made_at: datetime
    note: str
    read_on: date
    readings: int
    sensor: SensorKind
    lamps: list[str]
    in_use: bool


class MapChoiceOut(Schema):
    """One of the grower's maps, and whether a fit can be made of it here."""

    id: int
    name: str
    lamp: str
    readings: int
    here: bool


class FitsOut(Schema):
    """The fits of a space, the newest first, and what another can be made of."""

    fits: list[FitRowOut]
    in_use: int | None
    changed_since: bool = Field(
        description="the tent was rebuilt or lined anew since: the fit in use does not count"
    )
    maps: list[MapChoiceOut]
    lamps: list[str] = Field(description="those lit when readings are typed")
    width_cm: float
    depth_cm: float
    height_cm: float
    pot_cm: float


class CorrectionOut(Schema):
    name: CorrectionName
    factor: float
    sd: float
    why: SaidOut
    used: bool


class ParameterOut(Schema):
    name: str
    value: float
    low: float
    high: float


class FitFindingOut(Schema):
    code: str
    line: SaidOut
    likelihood: float


class ResidualOut(Schema):
    x_cm: float
    y_cm: float
    height_cm: float
    dial_pct: float | None
    reading: float
    measured: float
    fitted: float
    off: float
    outlier: bool


class RangedOut(Schema):
    low: float
    middle: float
    high: float


class LightFigureOut(Schema):
    planned: float
    true: RangedOut
    read: RangedOut


class NextReadingOut(Schema):
    """A reading that would narrow a figure's range, from ``now`` to ``then`` to either side."""

    x_cm: float
    y_cm: float
    height_cm: float
    now: float
    then: float
    enough: bool


class WalkedOut(Schema):
    """What the readings at one height say by themselves; ratios are nothing where they would be."""

    height_cm: float
    count: int
    statistics: MapStatisticsOut
    canopy_umol_s: float
    efficacy: float | None
    captured: float | None
    bound: float
    wrong: SaidOut | None


class StageVerdictOut(Schema):
    """What the fitted mean is enough for: on for so many hours it gives so much."""

    name: str
    verdict: Literal["enough", "short", "much"]
    hours: float
    dli: float
    dli_low: float
    dli_high: float


class FitOut(Schema):
    """What a fit says with its lamps at one height and dial."""

    read_on: date
    sensor: SensorKind
    sensor_sd: float
    open_read: str
    open_now: str
    lamps: list[str]
    width_cm: float
    depth_cm: float
    corrections: list[CorrectionOut]
    parameters: list[ParameterOut]
    findings: list[FitFindingOut]
    cannot_be: list[SaidOut]
    residuals: list[ResidualOut]
    worst: int
    height_cm: float
    light_fraction: float
    x_cm: list[float]
    y_cm: list[float]
    ppfd: list[list[float]]
    low: list[list[float]]
    high: list[list[float]]
    planned: list[list[float]]
    mean: LightFigureOut
    brightest: LightFigureOut
    dimmest: LightFigureOut
    evenness: LightFigureOut
    next_mean: NextReadingOut
    next_brightest: NextReadingOut
    walked: WalkedOut
    stages: list[StageVerdictOut]


class KeptFitOut(Schema):
    id: int


class ChangeIn(Strict):
    """Readings at the same spots before a change, with it, and without it again."""

    before: list[Light] = Field(min_length=1, max_length=MOST_READINGS)
    after: list[Light] = Field(min_length=1, max_length=MOST_READINGS)
    again: list[Light] | None = Field(None, max_length=MOST_READINGS)


class ChangeGainOut(Schema):
    share: float
    low: float
    high: float
    real: bool


class ChangeOut(Schema):
    """What the change did; ``drift`` is how far the two befores lie apart."""

    spots: list[ChangeGainOut]
    mean: ChangeGainOut
    drift: float
    noise: float


class DialReadingIn(Strict):
    """What was read at a position of a dial: watts at the plug, light at each spot."""

    position_pct: float = Field(ge=0, le=100)
    watts: float | None = Field(None, ge=0, le=100_000)
    ppfd: list[Light | None] = Field(default_factory=list, max_length=MOST_SPOTS)


class DialReadingsIn(Strict):
    rows: list[DialReadingIn] = Field(max_length=MOST_POSITIONS)


class CurveRowOut(Schema):
    position_pct: float
    watts_fraction: float
    light_fraction: float


class CurvePointOut(Schema):
    row: CurveRowOut
    light_low: float
    light_high: float


class DialCurveOut(Schema):
    points: list[CurvePointOut]
    by_light: bool
    by_watts: bool
    notes: list[SaidOut]
