"""Reading a run's log."""

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


def of_growth(run: Run) -> list[Entry]:
    """Return tops and settings that stand, the oldest first."""
    return list(entries_of(run).filter(kind__in=("tops", "setting")).order_by("at", "id"))
