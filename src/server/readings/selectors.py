"""Reading sensors, walks and fits."""

from uuid import UUID

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from server.accounts.models import Grower
from server.fixtures.models import LightMap
from server.readings.models import Sensor, Walk
from server.runs.models import Fit, FitChoice, Run


def sensors_of(grower: Grower) -> QuerySet[Sensor]:
    """Return the grower's sensors, oldest first."""
    return Sensor.objects.of(grower)


def sensor_of(grower: Grower, sensor_id: int) -> Sensor:
    """Return one sensor of the grower's, or answer 404."""
    return get_object_or_404(sensors_of(grower), pk=sensor_id)


def fits_of(run: Run) -> QuerySet[Fit]:
    """Return the fits of a run's space, the newest first."""
    return Fit.objects.of(run.owner).filter(space=run.space_id).order_by("-id")


def fit_of(run: Run, fit_id: int) -> Fit:
    """Return one fit of a run's space, or answer 404."""
    return get_object_or_404(fits_of(run), pk=fit_id)


def chosen_fit(run: Run) -> int | None:
    """Return the fit a run's space is planned by, by its id."""
    rows = FitChoice.objects.of(run.owner).filter(space=run.space_id)
    last = rows.order_by("-id").values_list("fit_id", flat=True).first()
    return None if last is None else int(last)


def maps_of(run: Run) -> QuerySet[LightMap]:
    """Return the grower's own maps of a run's lamps, the newest first."""
    rows = LightMap.objects.of(run.owner).filter(origin="own", removed=False)
    return rows.select_related("fixture").order_by("-id")


def map_of(grower: Grower, map_id: int) -> LightMap:
    """Return one of the grower's own maps, or answer 404."""
    rows = LightMap.objects.of(grower).filter(removed=False).select_related("fixture")
    found: LightMap = get_object_or_404(rows, pk=map_id)
    return found


MOST_LISTED = 40
"""Walks in a list: each is as long as it was walked."""


def newest_walks(run: Run) -> list[Walk]:
    """Return the newest walks in a run's space, those put away too."""
    return list(walks_of(run)[:MOST_LISTED])


def walks_of(run: Run) -> QuerySet[Walk]:
    """Return the walks in a run's space, the newest first, those put away too."""
    rows = Walk.objects.of(run.owner).filter(space=run.space_id)
    return rows.select_related("run__fixture").prefetch_related("entries").order_by("-id")


def walk_of(run: Run, key: UUID) -> Walk:
    """Return one walk in a run's space, or answer 404."""
    return get_object_or_404(walks_of(run), key=key)


def makers_map(grower: Grower, fixture_id: int) -> LightMap | None:
    """Return the map of a fixture that its maker gives, the newest of several."""
    rows = LightMap.objects.of(grower).filter(fixture=fixture_id, origin="maker", removed=False)
    found: LightMap | None = rows.select_related("fixture").order_by("-id").first()
    return found
