"""What can be done with a run's log."""

from datetime import timedelta
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from server.common.problems import CanopyError
from server.logbook.models import Entry, Photo
from server.runs.models import Run

MOST_ENTRIES = 50_000
AHEAD = timedelta(minutes=10)
"""A phone's clock may go so far ahead of ours."""


def _check(run: Run, values: dict[str, Any]) -> None:
    if run.begun_on is None:
        raise CanopyError("This plan has not begun: begin the run first.", "entries")
    if values["at"] > timezone.now() + AHEAD:
        raise CanopyError("That moment is still to come; keep it when it has come.", "at")
    photo = values["values"].get("photo")
    if photo is not None and not Photo.objects.of(run.owner).filter(run=run, pk=photo).exists():
        raise CanopyError("That photo is none of this run's.", "values")
    if values["at"].astimezone(run.owner.zone).date() < run.begun_on:
        raise CanopyError(f"That was before the run began on {run.begun_on}.", "at")


def keep_entries(run: Run, entries: list[dict[str, Any]]) -> list[Entry]:
    """Keep entries of a run's log, in order; what is known by its key is kept once.

    One that ``replaces`` another, by its key, stands in its place; the other is kept below it.
    """
    kept = []
    with transaction.atomic():
        mine = Entry.objects.of(run.owner).filter(run=run)
        keys = [values["key"] for values in entries]
        known: dict[UUID, Entry] = {row.key: row for row in mine.filter(key__in=keys)}
        if mine.count() + len(entries) > MOST_ENTRIES:
            raise CanopyError(f"{MOST_ENTRIES} entries are the most of one run.")
        for values in entries:
            row = known.get(values["key"])
            if row is None:
                _check(run, values)
                row = _append(run, dict(values))
                known[row.key] = row
            kept.append(row)
    return kept


def _append(run: Run, values: dict[str, Any]) -> Entry:
    replaced = values.pop("replaces")
    before = None
    if replaced is not None:
        before = Entry.objects.of(run.owner).filter(run=run, key=replaced).first()
        if before is None:
            raise CanopyError("What this replaces is not in the log; reload the page.", "replaces")
        # of two edits of one entry the later one stands on the earlier
        while (later := Entry.objects.filter(replaces=before).first()) is not None:
            before = later
    entry: Entry = Entry.objects.create(owner=run.owner, run=run, replaces=before, **values)
    return entry
