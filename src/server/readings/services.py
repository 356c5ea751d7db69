"""What can be done with sensors and fits."""

from typing import Any
from uuid import UUID

from django.db import transaction

from server.accounts.models import Grower
from server.common.problems import CanopyError
from server.common.rows import Expected, held, keep
from server.readings.adapters.sensors import check_sensor
from server.readings.models import Sensor
from server.runs.models import Fit, FitChoice, Run
from server.spaces.models import Space

MOST_SENSORS = 50
MOST_FITS = 200
MOST_CHOICES = 2000


def _check_room(grower: Grower) -> None:
    if Sensor.objects.of(grower).filter(removed=False).count() >= MOST_SENSORS:
        raise CanopyError(f"{MOST_SENSORS} sensors are the most that can be kept; put some away.")


def add_sensor(grower: Grower, values: dict[str, Any]) -> Sensor:
    """Keep a sensor."""
    check_sensor(values)
    with transaction.atomic():
        _check_room(grower)
        return Sensor.objects.create(owner=grower, **values)


def change_sensor(sensor: Sensor, values: dict[str, Any], expected: Expected = None) -> Sensor:
    """Keep new figures of a sensor; fits made with it stay as they were."""
    check_sensor(values)
    with held(sensor, expected) as row:
        keep(row, **values)
    return row


def put_sensor_away(sensor: Sensor, removed: bool, expected: Expected = None) -> Sensor:
    """Put a sensor away, or bring it back."""
    with held(sensor, expected) as row:
        if not removed and row.removed:
            _check_room(row.owner)
        keep(row, removed=removed)
    return row


def keep_fit(run: Run, document: dict[str, Any], note: str, key: UUID | None = None) -> Fit:
    """Keep a fit of a run's space and plan by it from now on."""
    with transaction.atomic():
        space = Space.objects.select_for_update().get(pk=run.space_id)
        mine = Fit.objects.of(run.owner)
        known: Fit | None = None if key is None else mine.filter(key=key).first()
        if known is not None:
            return known
        if mine.filter(space=space).count() >= MOST_FITS:
            raise CanopyError(f"{MOST_FITS} fits are the most one space can hold.")
        fit: Fit = Fit.objects.create(
            owner=run.owner, space=space, document=document, note=note, key=key
        )
        choose_fit(run, fit)
    return fit


def choose_fit(run: Run, fit: Fit | None, key: UUID | None = None) -> None:
    """Plan a run's space by a fit from now on, or by none."""
    with transaction.atomic():
        rows = FitChoice.objects.of(run.owner)
        if key is not None and rows.filter(key=key).exists():
            return
        here = rows.filter(space=run.space_id)
        last = here.order_by("-id").first()
        if (last.fit_id if last else None) == (fit.pk if fit else None):
            return
        if here.count() >= MOST_CHOICES:
            raise CanopyError("This was chosen too often; copy the plan to a space of its own.")
        FitChoice.objects.create(owner=run.owner, space_id=run.space_id, fit=fit, key=key)
