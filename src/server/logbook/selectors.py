"""Reading a run's log."""

from datetime import datetime

from django.db.models import QuerySet

from server.logbook.models import Entry
from server.runs.models import Run


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
    rows = run.settings.filter(kind="set", group=0, level=0, height_cm__isnull=False, freed=False)
    found += [
        (row.holds_from, row.height_cm)
        for row in rows
        if row.holds_from is not None and row.height_cm is not None
    ]
    return sorted(found)
