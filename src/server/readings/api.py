"""Readings: sensors, walks, fits, changes seen, and dials measured."""

import base64
from typing import Annotated, Literal
from uuid import UUID

from django.db.models import QuerySet
from django.http import HttpRequest
from ninja import Router, Status
from ninja.security import django_auth
from pydantic import Field

from server.accounts.api import grower_of
from server.common.schemas import CHANGES, PROBLEMS, RemovedIn
from server.common.versions import IdempotencyKey, IfMatch, expected, key_of, shown_by
from server.readings import selectors, services
from server.readings.adapters.changes import Changed, changed
from server.readings.adapters.compare import ComparedHere, compared_here
from server.readings.adapters.dials import DialCurve, curve_of
from server.readings.adapters.fits import (
    FitsHere,
    ShownFit,
    document_of,
    fits_here,
    shown_fit,
    stored_fit,
)
from server.readings.adapters.sockets import SocketAnswer, by_watts
from server.readings.adapters.tables import WalkTable, walk_table
from server.readings.adapters.taken import Expected, Read, expected_on, read_fit
from server.readings.adapters.walks import ShownWalk, WalkRow, shown_walk, walk_file, walk_row
from server.readings.models import Sensor, Walk
from server.readings.schemas import (
    ChangeIn,
    ChangeOut,
    ComparedHereOut,
    DialCurveOut,
    DialReadingsIn,
    ExpectedOut,
    ExpectIn,
    FitChoiceIn,
    FitIn,
    FitOut,
    FitsOut,
    KeptFitOut,
    SensorIn,
    SensorOut,
    WalkEntriesIn,
    WalkFileOut,
    WalkOut,
    WalkRowOut,
    WalkTableIn,
    WalkTableOut,
    WattsIn,
    WattsOut,
)
from server.runs.adapters.standing import Standing, standing_of
from server.runs.models import Fit, Run
from server.runs.selectors import run_of

router = Router(auth=django_auth)
shown_by(Sensor, SensorOut.from_orm)
shown_by(Walk, lambda walk: WalkRowOut.from_orm(walk_row(walk)))


@router.get("/sensors", response={200: list[SensorOut], **PROBLEMS})
def sensors(request: HttpRequest) -> QuerySet[Sensor]:
    """The grower's light sensors, oldest first."""
    return selectors.sensors_of(grower_of(request))


@router.post("/sensors", response={201: SensorOut, **PROBLEMS})
def add_sensor(request: HttpRequest, payload: SensorIn) -> Status[Sensor]:
    """Keep a light sensor."""
    return Status(201, services.add_sensor(grower_of(request), payload.model_dump()))


@router.put("/sensors/{int:sensor_id}", response={200: SensorOut, **CHANGES})
def change_sensor(
    request: HttpRequest, sensor_id: int, payload: SensorIn, if_match: IfMatch = None
) -> Sensor:
    """Keep new figures of a sensor; fits made with it stay as they were."""
    sensor = selectors.sensor_of(grower_of(request), sensor_id)
    return services.change_sensor(sensor, payload.model_dump(), expected(if_match))


@router.put("/sensors/{int:sensor_id}/aside", response={200: SensorOut, **CHANGES})
def put_sensor_away(
    request: HttpRequest, sensor_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> Sensor:
    """Put a sensor away, or bring it back."""
    sensor = selectors.sensor_of(grower_of(request), sensor_id)
    return services.put_sensor_away(sensor, payload.removed, expected(if_match))


def _run(request: HttpRequest, run_id: int) -> Run:
    return run_of(grower_of(request), run_id)


def _here(run: Run) -> FitsHere:
    fits, maps = list(selectors.fits_of(run)), list(selectors.maps_of(run))
    return fits_here(standing_of(run), fits, selectors.chosen_fit(run), maps)


@router.get("/runs/{int:run_id}/fits", response={200: FitsOut, **PROBLEMS})
def fits(request: HttpRequest, run_id: int) -> FitsHere:
    """The fits of a run's space, the newest first, and the maps another can be made of."""
    return _here(_run(request, run_id))


def _read(run: Run, payload: FitIn, standing: Standing | None = None) -> Read:
    grower = run.owner
    light_map = None if payload.map_id is None else selectors.map_of(grower, payload.map_id)
    sensor = None if payload.sensor_id is None else selectors.sensor_of(grower, payload.sensor_id)
    values = payload.model_dump()
    standing = standing or standing_of(run)
    return read_fit(standing, values, light_map, sensor, grower.today())


@router.post("/runs/{int:run_id}/fits/try", response={200: FitOut, **PROBLEMS})
def try_fit(request: HttpRequest, run_id: int, payload: FitIn) -> ShownFit:
    """What readings make of a run's tent and lamps; nothing is kept."""
    run = _run(request, run_id)
    standing = standing_of(run)
    read = _read(run, payload, standing)
    return shown_fit(standing, read.kept, payload.height_cm, read)


@router.post("/runs/{int:run_id}/fits/expect", response={200: list[ExpectedOut], **PROBLEMS})
def expect(request: HttpRequest, run_id: int, payload: ExpectIn) -> list[Expected]:
    """What the sensor will show at each spot of a walk, by what was read so far."""
    run = _run(request, run_id)
    sensor = (
        None if payload.sensor_id is None else selectors.sensor_of(run.owner, payload.sensor_id)
    )
    return expected_on(standing_of(run), payload.model_dump(), sensor, run.owner.today())


@router.post("/runs/{int:run_id}/fits", response={201: KeptFitOut, **PROBLEMS})
def keep_fit(
    request: HttpRequest, run_id: int, payload: FitIn, idempotency_key: IdempotencyKey = None
) -> Status[Fit]:
    """Keep what readings make of a run's tent and lamps, and plan by it."""
    run = _run(request, run_id)
    walk = None if payload.walk is None else selectors.walk_of(run, payload.walk)
    document = document_of(_read(run, payload).kept)
    key = key_of(idempotency_key)
    return Status(201, services.keep_fit(run, document, payload.note, key, walk))


@router.post("/runs/{int:run_id}/fits/compare", response={200: ComparedHereOut, **PROBLEMS})
def compare(request: HttpRequest, run_id: int, payload: FitIn) -> ComparedHere:
    """Readings beside the plan by the record, and beside a maker's map of the lamp."""
    run = _run(request, run_id)
    read = _read(run, payload)
    makers = selectors.makers_map(run.owner, read.setting.lead.fixture_id)
    return compared_here(read, makers)


@router.post("/runs/{int:run_id}/watts", response={200: WattsOut, **PROBLEMS})
def watts(request: HttpRequest, run_id: int, payload: WattsIn) -> SocketAnswer:
    """What a meter at the plug says of the light, where there is no sensor."""
    return by_watts(standing_of(_run(request, run_id)), **payload.model_dump())


@router.get("/runs/{int:run_id}/walks", response={200: list[WalkRowOut], **PROBLEMS})
def walks(request: HttpRequest, run_id: int) -> list[WalkRow]:
    """The newest walks in a run's space, the newest first, those put away too."""
    return [walk_row(walk) for walk in selectors.newest_walks(_run(request, run_id))]


@router.post("/runs/{int:run_id}/walks/table", response={200: WalkTableOut, **PROBLEMS})
def read_walk_table(request: HttpRequest, run_id: int, payload: WalkTableIn) -> WalkTable:
    """Read readings that come as a table; nothing is kept."""
    return walk_table(standing_of(_run(request, run_id)), payload.model_dump())


@router.post("/runs/{int:run_id}/walks/{uuid:walk}/entries", response={201: WalkRowOut, **PROBLEMS})
def keep_entries(
    request: HttpRequest, run_id: int, walk: UUID, payload: WalkEntriesIn
) -> Status[WalkRow]:
    """Keep what was done on a walk since it was last sent; each entry by its key once."""
    entries = [entry.model_dump() for entry in payload.entries]
    asked = payload.asked.model_dump()
    return Status(201, walk_row(services.keep_entries(_run(request, run_id), walk, asked, entries)))


@router.get("/runs/{int:run_id}/walks/{uuid:walk}", response={200: WalkOut, **PROBLEMS})
def walk(request: HttpRequest, run_id: int, walk: UUID) -> ShownWalk:
    """A walk with what was read."""
    return shown_walk(selectors.walk_of(_run(request, run_id), walk))


@router.get("/runs/{int:run_id}/walks/{uuid:walk}/table", response={200: WalkFileOut, **PROBLEMS})
def walk_as_table(
    request: HttpRequest, run_id: int, walk: UUID, kind: Literal["csv", "xlsx"] = "csv"
) -> WalkFileOut:
    """A walk as a map table, to keep or to give away."""
    found = selectors.walk_of(_run(request, run_id), walk)
    content = base64.b64encode(walk_file(found, kind)).decode()
    return WalkFileOut(name=f"Walk {found.created_at:%Y-%m-%d}.{kind}", content=content)


@router.put("/runs/{int:run_id}/walks/{uuid:walk}/aside", response={200: WalkRowOut, **CHANGES})
def put_walk_away(
    request: HttpRequest, run_id: int, walk: UUID, payload: RemovedIn, if_match: IfMatch = None
) -> WalkRow:
    """Put a walk away, or bring it back."""
    found = selectors.walk_of(_run(request, run_id), walk)
    return walk_row(services.put_walk_away(found, payload.removed, expected(if_match)))


Height = Annotated[float | None, Field(ge=1, le=1000)]


@router.get("/runs/{int:run_id}/fits/{int:fit_id}", response={200: FitOut, **PROBLEMS})
def fit(request: HttpRequest, run_id: int, fit_id: int, height_cm: Height = None) -> ShownFit:
    """What a kept fit says with the lamps at a height."""
    run = _run(request, run_id)
    kept = stored_fit(selectors.fit_of(run, fit_id).document)
    return shown_fit(standing_of(run), kept, height_cm)


@router.post("/runs/{int:run_id}/fits/choice", response={200: FitsOut, **PROBLEMS})
def choose_fit(
    request: HttpRequest,
    run_id: int,
    payload: FitChoiceIn,
    idempotency_key: IdempotencyKey = None,
) -> FitsHere:
    """Plan a run's space by another of its fits, or by none."""
    run = _run(request, run_id)
    chosen = None if payload.fit_id is None else selectors.fit_of(run, payload.fit_id)
    services.choose_fit(run, chosen, key_of(idempotency_key))
    return _here(run)


@router.post("/change", response={200: ChangeOut, **PROBLEMS})
def change_seen(request: HttpRequest, payload: ChangeIn) -> Changed:
    """What one change did, by readings before it, with it, and without it again."""
    return changed(payload.before, payload.after, payload.again)


@router.post("/dial", response={200: DialCurveOut, **PROBLEMS})
def dial(request: HttpRequest, payload: DialReadingsIn) -> DialCurve:
    """A dial's curve from watts and light read at its positions."""
    return curve_of([row.model_dump() for row in payload.rows])
