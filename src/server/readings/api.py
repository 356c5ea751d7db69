"""Readings: sensors, fits, changes seen, and dials measured."""

from typing import Annotated

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
from server.readings.adapters.dials import DialCurve, curve_of
from server.readings.adapters.fits import (
    Expected,
    FitsHere,
    Read,
    ShownFit,
    document_of,
    expected_on,
    fits_here,
    read_fit,
    shown_fit,
    stored_fit,
)
from server.readings.models import Sensor
from server.readings.schemas import (
    ChangeIn,
    ChangeOut,
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
)
from server.runs.adapters.standing import standing_of
from server.runs.models import Fit, Run
from server.runs.selectors import run_of

router = Router(auth=django_auth)
shown_by(Sensor, SensorOut.from_orm)


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


def _read(run: Run, payload: FitIn) -> Read:
    grower = run.owner
    light_map = None if payload.map_id is None else selectors.map_of(grower, payload.map_id)
    sensor = None if payload.sensor_id is None else selectors.sensor_of(grower, payload.sensor_id)
    values = payload.model_dump()
    return read_fit(standing_of(run), values, light_map, sensor, grower.today())


@router.post("/runs/{int:run_id}/fits/try", response={200: FitOut, **PROBLEMS})
def try_fit(request: HttpRequest, run_id: int, payload: FitIn) -> ShownFit:
    """What readings make of a run's tent and lamps; nothing is kept."""
    run = _run(request, run_id)
    read = _read(run, payload)
    return shown_fit(standing_of(run), read.kept, payload.height_cm, read.corrections, read.spots)


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
    document = document_of(_read(run, payload).kept)
    return Status(201, services.keep_fit(run, document, payload.note, key_of(idempotency_key)))


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
