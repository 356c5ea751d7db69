"""The Logbook place."""

import base64
import math
from typing import Annotated, Literal
from uuid import UUID, uuid4

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Status
from ninja.security import django_auth
from pydantic import AwareDatetime, Field, StringConstraints

from server.accounts.api import grower_of
from server.common.allowance import STRANGERS, Allowance
from server.common.problems import CanopyError, problem
from server.common.schemas import CHANGES, PROBLEMS, Problem, SaidOut
from server.common.versions import IdempotencyKey, IfMatch, expected, key_of
from server.devices.services.managing import hashed
from server.logbook import selectors, services
from server.logbook.adapters.light import LightAnswer
from server.logbook.adapters.line import ReadPiece, log_file, read_for
from server.logbook.adapters.photo import MOST_BYTES, BusyError
from server.logbook.adapters.seen import SeenAnswer
from server.logbook.adapters.today import MOST_AWAY, AwayAnswer, Broken, TodayRun
from server.logbook.adapters.tops import TopsAnswer, tops_of
from server.logbook.models import Entry, Feed
from server.logbook.schemas import (
    AwayOut,
    DayTodayOut,
    EntriesIn,
    EntryOut,
    FeedOut,
    GivenLightOut,
    LineIn,
    LinePieceOut,
    LogFileOut,
    LogOut,
    SeenOut,
    TodayOut,
    TopsOut,
)
from server.logbook.services import days, feed, photos
from server.runs.models import Run
from server.runs.selectors import run_of

router = Router(auth=django_auth)

MOST_NOTE = 300
KINDS = ("image/jpeg", "image/png", "image/webp")
ASKED = Allowance(0.05, 20)
"""A calendar asks every few hours; a grower may have several."""

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


@router.get("/runs/{int:run_id}/entries/table", response={200: LogFileOut, **PROBLEMS})
def log_as_table(
    request: HttpRequest, run_id: int, kind: Literal["csv", "xlsx"] = "csv"
) -> LogFileOut:
    """A run's whole log as a table, to keep or to give away."""
    run = _run(request, run_id)
    rows = selectors.entries_of(run).order_by("at", "id")
    content = base64.b64encode(log_file(run, rows.iterator(), kind)).decode()
    return LogFileOut(name=f"Log {run.begun_on or run.started_on}.{kind}", content=content)


@router.post("/line", response={200: list[LinePieceOut], **PROBLEMS})
def read_line(request: HttpRequest, payload: LineIn) -> list[ReadPiece]:
    """What would be kept of a typed line; nothing is kept by it."""
    return read_for(grower_of(request), payload.line)


@router.get("/runs/{int:run_id}/entries/{uuid:entry}/causes", response={200: SeenOut, **PROBLEMS})
def causes(request: HttpRequest, run_id: int, entry: UUID) -> SeenAnswer:
    """What may be behind what was seen, weighed against the light and the log of the run."""
    run = _run(request, run_id)
    return days.seen(run, selectors.symptom_of(run, entry))


PHOTO = {"content": {kind: {"schema": {"type": "string", "format": "binary"}} for kind in KINDS}}


@router.post(
    "/runs/{int:run_id}/photos",
    response={201: EntryOut, **PROBLEMS, 413: Problem, 503: Problem},
    openapi_extra={"requestBody": {"required": True, **PHOTO}},
)
def keep_photo(
    request: HttpRequest,
    run_id: int,
    at: AwareDatetime | None = None,
    note: Annotated[str, StringConstraints(max_length=MOST_NOTE)] = "",
    idempotency_key: IdempotencyKey = None,
) -> Status[Entry] | HttpResponse:
    """Keep a photo: re-encoded and shrunk, without the place where it was taken."""
    run = _run(request, run_id)
    sent = request.read(MOST_BYTES + 1)
    if len(sent) > MOST_BYTES:
        most = MOST_BYTES // 1024 // 1024
        return problem(413, "Too large", f"A photo has {most} MB at most; take it smaller.")
    key = key_of(idempotency_key) or uuid4()
    try:
        kept = photos.keep_photo(run, sent, key, at or timezone.now(), note)
    except BusyError:
        response = problem(503, "Busy", "Other photos are being read; send it again in a moment.")
        response["Retry-After"] = "5"
        return response
    return Status(201, kept)


@router.get(
    "/photos/{int:photo_id}",
    response={200: bytes, **PROBLEMS},
    openapi_extra={"responses": {200: {"content": {"image/jpeg": {}}}}},
)
def photo(request: HttpRequest, photo_id: int, small: bool = False) -> HttpResponse:
    """A photo as it is kept; ``small`` for lists."""
    found = selectors.photo_of(grower_of(request), photo_id)
    try:
        content = photos.file_of(found, small).read_bytes()
    except FileNotFoundError:
        return problem(404, "Not there", "This photo's file is missing from the data folder.")
    response = HttpResponse(content, content_type="image/jpeg")
    # what is kept never changes; nobody else's cache keeps it
    response["Cache-Control"] = "private, max-age=86400, immutable"
    return response


@router.get("/feed", response={200: FeedOut, **PROBLEMS})
def feed_made(request: HttpRequest) -> FeedOut:
    """Whether a calendar can ask for what is due, and since when."""
    return _feed(feed.feed_of(grower_of(request)))


def _feed(row: Feed, token: str | None = None) -> FeedOut:
    address = None if token is None else f"/api/calendar/{token}.ics"
    return FeedOut(version=row.version, made_at=row.token_made_at, address=address)


@router.put("/feed", response={200: FeedOut, **CHANGES})
def new_feed(request: HttpRequest, if_match: IfMatch = None) -> FeedOut:
    """Make a new address for calendars, told this once; the one before is dead at once."""
    return _feed(*feed.new_address(grower_of(request), expected(if_match)))


@router.delete("/feed", response={200: FeedOut, **CHANGES})
def revoke_feed(request: HttpRequest, if_match: IfMatch = None) -> FeedOut:
    """Take the calendars' address away."""
    return _feed(feed.revoke(grower_of(request), expected(if_match)))


calendar_router = Router(auth=None, tags=["calendar"])


@calendar_router.get(
    "/{token}.ics",
    response={200: bytes, **PROBLEMS, 429: Problem},
    openapi_extra={"responses": {200: {"content": {"text/calendar": {}}}}},
)
def calendar(request: HttpRequest, token: str) -> HttpResponse:
    """What is due, for whoever has the address; nobody signs in here."""
    grower = selectors.grower_fed(hashed(token))
    whose: object = request.META.get("REMOTE_ADDR", "") if grower is None else grower.pk
    wait = (STRANGERS if grower is None else ASKED).wait_s(whose)
    if wait:
        response = problem(429, "Too often", "That is too much at once; ask again later.")
        response["Retry-After"] = str(math.ceil(wait))
        return response
    if grower is None:
        return problem(404, "Not known", "This address is not known, or was revoked.")
    response = HttpResponse(feed.calendar(grower), content_type="text/calendar; charset=utf-8")
    response["Cache-Control"] = "private, max-age=3600"
    return response


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
