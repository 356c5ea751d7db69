"""What the logbook exchanges."""

from datetime import date, datetime
from typing import Annotated, Literal, Self, get_args
from uuid import UUID

from ninja import Schema
from pydantic import AwareDatetime, Field, StringConstraints, model_validator

from server.common.schemas import Id, SaidOut, Strict
from server.logbook.adapters.line import LIMITS, MOST_LINE, EntryKind
from server.logbook.adapters.seen import Cause, Outcome
from server.logbook.adapters.today import DueKind
from server.runs.schemas.levers import WindowOut

Minute = Annotated[float, Field(ge=0, lt=1440)]
"""After midnight."""
Word = Annotated[str, StringConstraints(max_length=40)]
DueKey = Annotated[str, StringConstraints(min_length=1, max_length=120)]
KeptKind = Literal[EntryKind, "answer", "photo", "try", "outcome"]
"""What a line says, answers to what was due, photographs, and what was tried for a sign."""


def _figure(name: str) -> float | None:
    low, high = LIMITS[name]
    figure: float | None = Field(None, ge=low, le=high)
    return figure


class EntryValues(Strict):
    """The figures of an entry; which belong to its kind is said in docs/formats/quick-line.md."""

    tops_cm: float | None = _figure("tops_cm")
    height_cm: float | None = _figure("height_cm")
    dial_pct: float | None = _figure("dial_pct")
    hours: float | None = _figure("hours")
    on_minute: Minute | None = None
    watts: float | None = _figure("watts")
    celsius: float | None = _figure("celsius")
    minutes: float | None = _figure("minutes")
    from_minute: Minute | None = None
    count: float | None = _figure("count")
    what: Word | None = None
    part: Word | None = None
    where: Word | None = None
    due: DueKey | None = None
    photo: Id | None = None
    since_days: float | None = _figure("since_days")
    many: Literal["one", "some", "all"] | None = None
    of: Word | None = None
    cause: Cause | None = None


ANSWERS = ("done", "later", "never")
CLEANED = ("lamp", "lining", "both")

NEEDED: dict[str, tuple[str, ...]] = {
    "tops": ("tops_cm",),
    "setting": ("height_cm", "dial_pct", "hours"),
    "watts": ("watts",),
    "temperature": ("celsius",),
    "outage": ("minutes",),
    "dead": ("count",),
    "symptom": ("what",),
    "cleaned": ("what",),
    "answer": ("due",),
    "photo": ("photo",),
    "try": ("cause",),
    "outcome": ("what",),
}
"""One of these each kind has to have."""


class EntryIn(Strict):
    """One entry, with a key of its own: sent twice it is kept once."""

    key: UUID
    kind: KeptKind
    at: AwareDatetime
    values: EntryValues = Field(default_factory=EntryValues)
    text: Annotated[str, StringConstraints(max_length=MOST_LINE)] = ""
    replaces: UUID | None = Field(None, description="the entry it stands in the place of")
    gone: bool = Field(False, description="what it replaces is taken out of sight")

    @model_validator(mode="after")
    def _says_something(self) -> Self:
        needed = NEEDED.get(self.kind)
        if needed is None:
            if not self.text.strip():
                raise ValueError("An entry says something; write it.")
        elif all(getattr(self.values, name) is None for name in needed):
            raise ValueError(f"An entry of {self.kind} has {' or '.join(needed)}; give it.")
        if self.kind == "answer" and self.values.what not in ANSWERS:
            raise ValueError(f"What is due is answered with {' or '.join(ANSWERS)}.")
        if self.kind == "cleaned" and self.values.what not in CLEANED:
            raise ValueError(f"What was cleaned is {' or '.join(CLEANED)}.")
        if self.kind == "outcome" and self.values.what not in get_args(Outcome):
            raise ValueError("What came of it is better, same or worse.")
        if self.kind in ("try", "outcome") and self.values.of is None:
            raise ValueError("Say of which entry it is, by its key.")
        return self


class EntriesIn(Strict):
    entries: list[EntryIn] = Field(min_length=1, max_length=200)


class EntryOut(Schema):
    """An entry that stands; ``edited`` tells that something else stood before."""

    id: int
    key: UUID
    kind: KeptKind
    at: datetime
    values: dict[str, float | str]
    text: str
    edited: bool


class LogOut(Schema):
    """A run's log, the newest first; ``more`` tells that older ones are not in it."""

    entries: list[EntryOut]
    more: bool


class LogFileOut(Schema):
    """A log as a table, base64."""

    name: str
    content: str


class LineIn(Strict):
    line: str = Field(max_length=2000)


class LinePieceOut(Schema):
    """What would be kept of a piece of a line, or why it was not read."""

    text: str
    kind: EntryKind | None
    values: dict[str, float | str]
    why: SaidOut | None


class TopsPointOut(Schema):
    at: datetime
    tops_cm: float
    where: str


class TopsDayOut(Schema):
    on: date
    low: float
    middle: float
    high: float


class TopsOut(Schema):
    """The tops above the floor: measured, how they go on with the 90 % range, and the lamp."""

    points: list[TopsPointOut]
    kind: str
    rate_cm_d: float
    days: list[TopsDayOut]
    lamp_cm: float | None
    lines: list[SaidOut]


Span = Annotated[list[float], Field(min_length=2, max_length=2)]
"""From and until which minute of a day."""


class GivenDayOut(Schema):
    """A day's light, and how lamp and tops stood above the floor; nothing before it was set."""

    on: date
    dli: float
    low: float
    high: float
    lit_h: float
    known: bool
    stage: str
    dli_low: float
    dli_high: float
    lamp_cm: float | None
    tops_cm: float
    spans: list[Span]


class GivenLightOut(Schema):
    """The light really given, against the band of the stage it is in; today so far."""

    days: list[GivenDayOut]
    dli_low: float
    dli_high: float
    stage: str
    line: SaidOut
    make_up: SaidOut | None


class FeedOut(Schema):
    """Since when a calendar can ask for what is due; ``address`` is told once, when it is made."""

    version: int
    made_at: datetime | None
    address: str | None = None


class ToSetOut(Schema):
    """Levers as they are to stand; height above the tops as they are now."""

    height_cm: float
    lamp_cm: float
    dial_pct: float
    windows: list[WindowOut]


class DueOut(Schema):
    """One thing to do; ``key`` is what an answer to it names."""

    key: str
    kind: DueKind
    on: date
    late_days: int
    lines: list[SaidOut]
    why: SaidOut | None
    to_set: ToSetOut | None
    holds_until: date | None
    stage_id: int | None
    of: str | None


class StandsOut(Schema):
    """How the lamp stands, and what it gives: today so far, and over a whole day."""

    height_cm: float
    lamp_cm: float
    closest_cm: float
    dial_pct: float
    windows: list[WindowOut]
    set_on: date
    dli_so_far: float
    window_dli: float
    dli: float


class ComingOut(Schema):
    on: date
    lines: list[SaidOut]


class LampUntilOut(Schema):
    off_minute: int | None
    dli: float
    line: SaidOut


class DayTodayOut(Schema):
    """What is to be done for a run today, and where things stand."""

    day: int
    stage: str
    stage_day: int
    stage_days: int
    due: list[DueOut]
    nothing: SaidOut | None
    stands: StandsOut | None
    tops_cm: float
    tops_low: float | None
    tops_high: float | None
    rate_cm_d: float | None
    dli_low: float
    dli_high: float
    planned_dli: float
    until: LampUntilOut | None
    make_up: SaidOut | None
    coming: list[ComingOut]


class TodayOut(Schema):
    """A run under way: its day, or why that cannot be told."""

    run_id: int
    day: DayTodayOut | None
    why: SaidOut | None


class TryOut(Schema):
    """One thing to try, and where the levers are to stand if it is light."""

    lines: list[SaidOut]
    to_set: ToSetOut | None


class CauseOut(Schema):
    """A cause a sign may have, and what speaks for and against it."""

    cause: Cause
    name: SaidOut
    share: float
    speaks_for: list[SaidOut]
    against: list[SaidOut]
    change: TryOut


class SeenOut(Schema):
    """What may be behind what was seen, the likeliest first."""

    causes: list[CauseOut]
    note: SaidOut | None
    how: SaidOut


class AwayOut(Schema):
    """One setting that holds while nobody comes, and until when."""

    asked_days: int
    days: int
    until: date
    lines: list[SaidOut]
    to_set: ToSetOut | None
