"""What readings exchange."""

from datetime import date, datetime
from typing import Annotated, Literal, Self
from uuid import UUID

from ninja import Schema
from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints, model_validator

from server.common.schemas import Id, Name, SaidOut, Strict
from server.fixtures.schemas import MapStatisticsOut
from server.readings.adapters.dials import MOST_POSITIONS, MOST_SPOTS, MOST_STEPS
from server.readings.adapters.sensors import FACTOR, MOST_PAIRS, CorrectionName, SensorKind
from server.readings.adapters.taken import MOST_READINGS

Wall = Literal["", "left", "right", "front", "back"]
Light = Annotated[float, Field(ge=0, le=1e6)]
Pair = Annotated[list[Light], Field(min_length=2, max_length=2)]
"""A sensor's reading and a trusted one of the same light."""

Length = Annotated[float, Field(ge=0, le=1000)]
Seconds = Annotated[float, Field(ge=-1e7, le=1e7)]
"""Since the walk began."""


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


class Plain(BaseModel):
    """Of which hundreds come in one request: strict, without a schema's own looking."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class ReadingIn(Plain):
    """One reading: where, how high the lamp hung above the sensor's plane, and what was shown."""

    x_cm: Length
    y_cm: Length
    height_cm: float = Field(ge=1, le=1000)
    dial_pct: float | None = Field(None, ge=0, le=100)
    reading: Light
    unlit: Light | None = Field(None, description="there with the lamp off, daylight alone")
    at_s: Seconds = 0


class BackgroundIn(Plain):
    """A look with the lamp off, and when it was taken."""

    at_s: Seconds
    shown: Light


class SpotIn(Plain):
    """Where a reading is to be taken; the dial as at the first where none is given."""

    x_cm: Length
    y_cm: Length
    height_cm: float = Field(ge=1, le=1000)
    dial_pct: float | None = Field(None, ge=0, le=100)


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
    zero: Light = Field(0, description="what the sensor shows in the dark")
    backgrounds: list[BackgroundIn] = Field(default_factory=list, max_length=MOST_READINGS)
    watts: float | None = Field(None, gt=0, le=20_000, description="at the plug while reading")
    daylight: bool = Field(False, description="it was there and was not read")
    open_read: Wall = ""
    open_now: Wall = ""
    read_on: date | None = None
    walk: UUID | None = Field(None, description="the walk they are of")
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
    dials: list[float] = Field(description="positions its dial is measured at; none without one")
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


class ResidualOut(BaseModel):
    model_config = ConfigDict(from_attributes=True)

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
    inside: float | None = Field(description="share of what was read that lies in the band then")


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
    leans: list[SaidOut] = Field(description="which half is brighter, why, and what would tell")
    notes: list[SaidOut] = Field(description="what daylight did meanwhile")
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


class ComparedSpotOut(Schema):
    """A reading, put right."""

    x_cm: float
    y_cm: float
    height_cm: float
    dial_pct: float | None
    measured: float


class ComparedOut(Schema):
    """Readings over what was to be there: shares; the mean's 90 % range is the sensor's."""

    against: Literal["plan", "maker"]
    there: list[float | None]
    ratio: list[float | None]
    mean_ratio: float
    low: float
    high: float
    blind: float
    line: SaidOut


class ComparedHereOut(Schema):
    """Readings beside the plan by the record, and a maker's map where one lamp was lit."""

    spots: list[ComparedSpotOut]
    against: list[ComparedOut]
    maker: str | None


class WattsIn(Strict):
    """What a meter at the plug shows with the lamps at a height and dial."""

    stage_id: Id
    height_cm: float = Field(ge=1, le=1000)
    dial_pct: float = Field(ge=0, le=100)
    watts: float = Field(gt=0, le=100_000)


class WattsOut(Schema):
    """What the lamps give by their watts: the mean, its 90 % range, and what it is enough for."""

    expected_watts: float
    planned_mean: float
    mean: float
    low: float
    high: float
    change: float
    line: SaidOut
    stages: list[StageVerdictOut]


class WalkLayout(Strict):
    """Where is read: five spots, so many by so many, or the five at each of the dial's steps."""

    name: Literal["five", "nine", "twenty-five", "grid", "steps", "own"]
    columns: int = Field(ge=1, le=20)
    rows: int = Field(ge=1, le=20)
    places: Literal["cells", "edges"]
    edge_cm: float = Field(ge=0, le=100)
    lift_cm: float = Field(ge=0, le=100)
    dials: list[Annotated[float, Field(ge=0, le=100)]] = Field(max_length=MOST_STEPS)


class WalkAsked(Strict):
    """What is asked once on a walk."""

    layout: WalkLayout
    height_cm: float = Field(ge=1, le=1000)
    dial_pct: float | None = Field(None, ge=0, le=100)
    plane_cm: Length | None = None
    sensor_id: Id | None = None
    zero: Light = 0
    watts: float | None = Field(None, gt=0, le=20_000)
    daylight: Literal["none", "left", "each", "background"] = "none"
    open_read: Wall = ""
    open_now: Wall = ""
    left_out: list[CorrectionName] = Field(default_factory=list, max_length=8)
    cold: bool = False


class WalkEntryIn(Strict):
    """One thing done on a walk, with a key of its own: sent twice it is kept once."""

    key: UUID
    number: int = Field(ge=0, le=9999)
    state: Literal["read", "left_out", "taken_back", "daylight"]
    x_cm: Length
    y_cm: Length
    height_cm: float = Field(ge=1, le=1000)
    dial_pct: float | None = Field(None, ge=0, le=100)
    shown: Light | None = None
    unlit: Light | None = None
    spread: float | None = Field(None, ge=0, le=10)
    at: AwareDatetime

    @model_validator(mode="after")
    def _has_a_figure(self) -> Self:
        if self.shown is None and self.state in ("read", "daylight"):
            raise ValueError("What was read has a figure; give what the sensor showed.")
        return self


class WalkEntriesIn(Strict):
    """What was done on a walk since it was last sent, in order, and what was asked once."""

    asked: WalkAsked
    entries: list[WalkEntryIn] = Field(min_length=1, max_length=MOST_READINGS)


class WalkSpotOut(Schema):
    """The latest of a spot."""

    number: int
    state: Literal["read", "left_out", "daylight"]
    x_cm: float
    y_cm: float
    height_cm: float
    dial_pct: float | None
    shown: float | None
    unlit: float | None
    spread: float | None
    at: datetime


class WalkRowOut(Schema):
    """A walk, as lists show it; figures by the sensor, daylight off, where most was read."""

    key: UUID
    version: int
    removed: bool
    begun_at: datetime
    lamp: str
    readings: int
    height_cm: float | None
    dial_pct: float | None
    mean: float | None
    lowest: float | None
    highest: float | None
    fit_id: int | None


class WalkOut(Schema):
    """A walk with what was read; of each spot the latest."""

    key: UUID
    version: int
    removed: bool
    begun_at: datetime
    asked: WalkAsked
    spots: list[WalkSpotOut]
    fit_id: int | None


class MendedIn(Strict):
    """A cell of a table as it was corrected, by line and place from 1."""

    line: int = Field(ge=1, le=100_000)
    place: int = Field(ge=1, le=1000)
    text: str = Field(max_length=40)


class WalkTableIn(Strict):
    """Readings as a table: pasted text, or a file (CSV or XLSX) as base64."""

    text: str = Field("", max_length=1_000_000)
    content: str = Field("", max_length=3_000_000)
    height_cm: float | None = Field(None, ge=1, le=500, description="where the table has none")
    mended: list[MendedIn] = Field(default_factory=list, max_length=200)


class TableReadingOut(Schema):
    x_cm: float
    y_cm: float
    height_cm: float
    dial_pct: float | None
    ppfd: float


class BadCellOut(Schema):
    """A cell that could not be read, and why."""

    line: int
    place: int
    column: str
    text: str
    why: str


class WalkTableOut(Schema):
    """A table's readings, the cells to be mended, and how it was read."""

    readings: list[TableReadingOut]
    bad: list[BadCellOut]
    notes: list[str]


class WalkFileOut(Schema):
    """A walk as a map table, base64."""

    name: str
    content: str


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
