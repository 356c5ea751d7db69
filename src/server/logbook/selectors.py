"""Reading a run's log."""

from datetime import datetime

from django.db.models import QuerySet

from server.logbook.models import Entry
from server.runs.models import Run, Setting


def entries_of(run: Run) -> QuerySet[Entry]:
    """Return the entries of a run that stand, the newest first."""
    rows = Entry.objects.of(run.owner).filter(run=run)
    return rows.filter(replaced_by=None, gone=False)


def gone_of(run: Run) -> QuerySet[Entry]:
    """Return what was taken out of sight and can be brought back, the newest first."""
    rows = Entry.objects.of(run.owner).filter(run=run, replaced_by=None, gone=True)
    return rows.select_related("replaces").order_by("-id")


def tops_in(run: Run) -> list[Entry]:
    """Return the tops that were measured, the oldest first."""
    return list(entries_of(run).filter(kind="tops").order_by("at", "id"))


def heights_in(run: Run) -> list[tuple[datetime, float]]:
    """Return the lamp's heights above the tops as they were set, here or at the bench, in order."""
    here = entries_of(run).filter(kind="setting", values__has_key="height_cm")
    found = [(entry.at, float(entry.values["height_cm"])) for entry in here]
    found += [
        (row.holds_from, row.height_cm)
        for row in set_at_bench(run)
        if row.holds_from is not None and row.height_cm is not None
    ]
    return sorted(found)


def set_at_bench(run: Run) -> list[Setting]:
    """Return what was set at the bench of the lamps that follow the rail, in order."""
    rows = run.settings.filter(kind="set", group=0, level=0, channel=None, freed=False)
    return list(rows.order_by("holds_from", "id"))


def of_light(run: Run) -> list[Entry]:
    """Return tops, settings and outages that stand, the oldest first."""
    kinds = ("tops", "setting", "outage")
    return list(entries_of(run).filter(kind__in=kinds).order_by("at", "id"))
