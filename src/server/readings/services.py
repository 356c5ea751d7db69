"""What can be done with sensors, walks and fits."""

from typing import Any
from uuid import UUID

from django.db import transaction

from server.accounts.models import Grower
from server.common.problems import CanopyError
from server.common.rows import Expected, held, keep
from server.readings.adapters.sensors import check_sensor
from server.readings.models import Sensor, Walk
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


def keep_fit(
    run: Run,
    document: dict[str, Any],
    note: str,
    key: UUID | None = None,
    walk: Walk | None = None,
) -> Fit:
    """Keep a fit of a run's space, made of a ``walk`` if of one, and plan by it from now on."""
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
        if walk is not None:
            planned_by(walk, fit)
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


MOST_WALKS = 1000
MOST_ENTRIES = 4000


def keep_entries(run: Run, key: UUID, asked: dict[str, Any], entries: list[dict[str, Any]]) -> Walk:
    """Keep what was done on a walk, in order; what is known by its key is kept once.

    The first entries of a walk begin it.
    """
    with transaction.atomic():
        walk: Walk
        walk, begun = Walk.objects.of(run.owner).get_or_create(
            key=key, defaults={"owner": run.owner, "run": run, "space_id": run.space_id}
        )
        if walk.space_id != run.space_id:
            raise CanopyError("This walk was of another space; begin one of its own here.")
        if begun and Walk.objects.of(run.owner).filter(space=run.space_id).count() > MOST_WALKS:
            raise CanopyError(f"{MOST_WALKS} walks are the most one space can hold.")
        known = set(walk.entries.values_list("key", flat=True))
        if len(known) + len(entries) > MOST_ENTRIES:
            raise CanopyError(f"{MOST_ENTRIES} entries are the most of one walk; begin another.")
        last = walk.entries.filter(asked__isnull=False).order_by("-id").first()
        changed = last is None or last.asked != asked
        new = [values for values in entries if values["key"] not in known]
        for values in new:
            if values["key"] not in known:
                walk.entries.create(**values, asked=asked if changed else None)
                known.add(values["key"])
                changed = False
        if new:
            keep(walk)
    return walk


def put_walk_away(walk: Walk, removed: bool, expected: Expected = None) -> Walk:
    """Put a walk away, or bring it back."""
    with held(walk, expected) as row:
        keep(row, removed=removed)
    return row


def planned_by(walk: Walk, fit: Fit) -> None:
    """Note that a fit was made of a walk."""
    with held(walk) as row:
        keep(row, fit=fit)
