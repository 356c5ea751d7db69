"""Reading what a review looks back on."""

from server.logbook.models import Entry
from server.logbook.selectors import entries_of
from server.readings.models import Walk
from server.runs.models import Fit, FitChoice, Run

MOST_WALKS = 24
"""So many are compared: the first, and the latest."""

MOST_SIGNS = 200


def lived_here(run: Run) -> list[Run]:
    """Return the runs that have lived in a run's space under its kind of lamp, the oldest first."""
    rows = Run.objects.of(run.owner).filter(
        space=run.space_id, fixture=run.fixture_id, begun_on__isnull=False
    )
    found = list(rows.select_related("space", "fixture__light_map", "crop").order_by("begun_on"))
    for row in found:
        row.owner = run.owner
    return found


def walks_here(run: Run) -> list[Walk]:
    """Return the walks in a run's space under its kind of lamp, the oldest first."""
    rows = Walk.objects.of(run.owner).filter(
        space=run.space_id, run__fixture=run.fixture_id, removed=False
    )
    rows = rows.select_related("run__space", "run__fixture__light_map", "run__crop")
    every = rows.prefetch_related("entries").order_by("id")
    after = max(every.count() - MOST_WALKS, 0) + 1
    found = [*every[:1], *every[after:]]
    for walk in found:
        walk.run.owner = run.owner
    return found


def cleaned_here(run: Run) -> list[Entry]:
    """Return when lamp and lining were cleaned or changed in a run's space, the oldest first."""
    rows = Entry.objects.of(run.owner).filter(
        run__space=run.space_id, kind__in=("cleaned", "cover"), replaced_by=None, gone=False
    )
    return list(rows.order_by("at", "id"))


def signs_of(run: Run) -> list[Entry]:
    """Return what plants showed, what was tried for it and what came of it, the oldest first."""
    rows = entries_of(run).filter(kind__in=("symptom", "try", "outcome")).order_by("at", "id")
    return list(rows[:MOST_SIGNS])


def fits_during(run: Run) -> list[Fit]:
    """Return the fits a run's space was planned by while it lived, in the order they were chosen.

    Those of before it began count with the last of them.
    """
    rows = FitChoice.objects.of(run.owner).filter(space=run.space_id).select_related("fit")
    zone = run.owner.zone
    found: list[Fit | None] = []
    for choice in rows.order_by("id"):
        on = choice.created_at.astimezone(zone).date()
        if run.ended_on is not None and on > run.ended_on:
            break
        if run.begun_on is not None and on < run.begun_on:
            found = [choice.fit]
        else:
            found.append(choice.fit)
    return [fit for fit in dict.fromkeys(found) if fit is not None]
