"""What crops exchange."""

from typing import ClassVar, Literal

from ninja import Schema
from pydantic import Field

from server.common.schemas import Echoed, Id, Name, Note, Strict, within
from server.crops.adapters import STAGE_LIMITS, DayLength


class StageIn(Strict):
    id: Id | None = None
    name: Name
    days: int = within(STAGE_LIMITS["days"])
    dli_low: float | None = Field(None, description="empty where the PPFD band alone is asked")
    dli_high: float | None = None
    ppfd_low: float | None = None
    ppfd_high: float | None = None
    hot_spot_cap: float
    evenness_goal: float | None = None
    hours_low: float
    hours_high: float
    response: DayLength = "neutral"
    night_h: float = 0.0
    unbroken_night: bool = False
    plant_start_cm: float = within(STAGE_LIMITS["plant_start_cm"])
    plant_end_cm: float = within(STAGE_LIMITS["plant_end_cm"])
    provenance: Note = ""


class CropIn(Echoed):
    answers_only: ClassVar[frozenset[str]] = frozenset({"id", "version", "removed"})

    name: Name
    habit: Literal["carpet", "pots"]
    stages: list[StageIn] = Field(min_length=1, max_length=20)


class StageOut(StageIn):
    id: int
    dli_low: float
    dli_high: float


class LabelOut(Schema):
    """Words of a plant label, and the DLI band they stand for."""

    key: str
    label: str
    dli_low: float
    dli_high: float


class LibraryCrop(Schema):
    """A shipped crop."""

    name: str
    group: str
    habit: Literal["carpet", "pots"]
    stages: list[StageIn]


class CropOut(Schema):
    id: int
    version: int
    removed: bool
    name: str
    habit: Literal["carpet", "pots"]
    stages: list[StageOut]
