"""The Logbook place."""

from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from ninja.security import django_auth
from pydantic import Field

from server.accounts.api import grower_of
from server.common.problems import CanopyError
from server.common.schemas import PROBLEMS, SaidOut
from server.logbook import selectors, services
from server.logbook.adapters.light import LightAnswer
from server.logbook.adapters.line import ReadPiece, read_for
from server.logbook.adapters.today import MOST_AWAY, AwayAnswer, Broken, TodayRun
from server.logbook.adapters.tops import TopsAnswer, tops_of
from server.logbook.models import Entry
from server.logbook.schemas import (
    AwayOut,
    DayTodayOut,
    EntriesIn,
    EntryOut,
    GivenLightOut,
    LineIn,
    LinePieceOut,
    LogOut,
    TodayOut,
    TopsOut,
)
from server.logbook.services import days
from server.runs.models import Run
from server.runs.selectors import run_of

router = Router(auth=django_auth)

AwayDays = Annotated[int, Field(ge=1, le=MOST_AWAY)]
Most = Annotated[int, Field(ge=1, le=1000)]


def _run(request: HttpRequest, run_id: int) -> Run:
    return run_of(grower_of(request), run_id)


@router.get("/runs/{int:run_id}/entries", response={200: LogOut, **PROBLEMS})
def entries(request: HttpRequest, run_id: int, most: Most = 200) -> LogOut:
    """What stands in a run's log, the newest first."""
    rows = list(selectors.entries_of(_run(request, run_id))[: most + 1])
    shown = [EntryOut.from_orm(row) for row in rows[:most]]
    return LogOut(entries=shown, more=len(rows) > most)


@router.get("/runs/{int:run_id}/entries/gone", response={200: list[EntryOut], **PROBLEMS})
def gone(request: HttpRequest, run_id: int) -> list[Entry]:
    """What was taken out of sight and can be brought back, the newest first."""
    return list(selectors.gone_of(_run(request, run_id))[:100])


@router.post("/runs/{int:run_id}/entries", response={201: list[EntryOut], **PROBLEMS})
def keep_entries(request: HttpRequest, run_id: int, payload: EntriesIn) -> Status[list[Entry]]:
    """Keep entries in order, each by its key once; an edit replaces, a deletion can be undone."""
    values = [
        {**entry.model_dump(), "values": entry.values.model_dump(exclude_none=True)}
        for entry in payload.entries
    ]
    return Status(201, services.keep_entries(_run(request, run_id), values))


@router.post("/line", response={200: list[LinePieceOut], **PROBLEMS})
def read_line(request: HttpRequest, payload: LineIn) -> list[ReadPiece]:
    """What would be kept of a typed line; nothing is kept by it."""
    return read_for(grower_of(request), payload.line)


@router.get("/runs/{int:run_id}/tops", response={200: TopsOut | None, **PROBLEMS})
def tops(request: HttpRequest, run_id: int) -> TopsAnswer | None:
    """How the tops rise by what was measured, and when they come too near the lamp."""
    run = _run(request, run_id)
    return tops_of(run, selectors.tops_in(run), selectors.heights_in(run), timezone.now())


@router.get("/runs/{int:run_id}/light", response={200: GivenLightOut | None, **PROBLEMS})
def light(request: HttpRequest, run_id: int) -> LightAnswer | None:
    """The light really given each day, from what was set, the tops and power cuts."""
    return days.light(_run(request, run_id))


@router.get("/today", response={200: list[TodayOut], **PROBLEMS})
def today(request: HttpRequest) -> list[TodayOut]:
    """What is to be done today for every run that is under way."""
    return [_today(found) for found in days.todays(grower_of(request))]


def _today(found: TodayRun | Broken) -> TodayOut:
    if isinstance(found, Broken):
        return TodayOut(run_id=found.run_id, day=None, why=SaidOut.from_orm(found.why))
    return TodayOut(run_id=found.run_id, day=DayTodayOut.from_orm(found), why=None)


@router.get("/runs/{int:run_id}/away", response={200: AwayOut | None, **PROBLEMS})
def away(request: HttpRequest, run_id: int, days_away: AwayDays = 5) -> AwayAnswer | None:
    """One setting that holds while nobody comes for some days, or until when the best does."""
    run = _run(request, run_id)
    if run.begun_on is None or run.ended_on is not None:
        raise CanopyError("Away from what? This run is not under way.", "run_id")
    return days.away(run, days_away)
