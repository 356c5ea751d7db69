"""Reading a run's log."""

from datetime import datetime, timedelta
from uuid import UUID

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from server.accounts.models import Grower
from server.logbook.models import Entry, Feed, Photo
from server.readings.models import WalkEntry
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
    return list(entries_of(run).filter(kind__in=kinds).only(*FIGURES).order_by("at", "id"))


def photo_of(grower: Grower, photo_id: int) -> Photo:
    """Return one of the grower's photographs, or answer 404."""
    photo: Photo = get_object_or_404(Photo.objects.of(grower), pk=photo_id)
    return photo


def grower_fed(token_hash: str) -> Grower | None:
    """Return the grower whose calendar address has a secret with this digest."""
    rows = Feed.objects.filter(token_hash=token_hash, owner__is_active=True)
    feed = rows.select_related("owner").first()
    return None if feed is None else feed.owner


LATE = timedelta(days=10)
"""What lamp and light did for so long tells of today: a week, and some to spare."""

MOST_TOPS = 400
ANSWERED = timedelta(days=60)


FIGURES = ("id", "key", "kind", "at", "values")
"""What the ledger asks of an entry."""


def of_late(run: Run, now: datetime) -> list[Entry]:
    """Return what of :func:`of_light` today hangs on, the oldest first.

    The latest tops, what was set and cut of late, and how each lever was set last before.
    """
    rows = entries_of(run).only(*FIGURES)
    since = now - LATE
    tops = list(rows.filter(kind="tops").order_by("-at", "-id")[:MOST_TOPS])
    found = list(rows.filter(kind__in=("setting", "outage"), at__gte=since))
    before = rows.filter(kind="setting", at__lt=since).order_by("-at", "-id")
    for lever in ("height_cm", "dial_pct", "hours", "on_minute"):
        row = before.filter(values__has_key=lever).first()
        if row is not None and row not in found:
            found.append(row)
    return sorted([*tops, *found], key=lambda entry: (entry.at, entry.pk))


def of_looks(run: Run, now: datetime) -> list[Entry]:
    """Return the latest entry of each kind that a look at the tent leaves."""
    kinds = ("tops", "outage", "symptom", "note", "try", "outcome")
    rows = entries_of(run).filter(at__lte=now).only(*FIGURES)
    found = (rows.filter(kind=kind).first() for kind in kinds)
    return [row for row in found if row is not None]


def answered(run: Run, now: datetime) -> set[str]:
    """Return what was due and is done or not needed, and what waits until tomorrow."""
    rows = entries_of(run).filter(kind="answer", at__gte=now - ANSWERED)
    today = now.astimezone(run.owner.zone).date()
    found: dict[str, bool] = {}
    for entry in rows.order_by("at", "id"):
        later = entry.values.get("what") == "later"
        waits = entry.at.astimezone(run.owner.zone).date() == today
        found[str(entry.values.get("due"))] = waits or not later
    return {due for due, still in found.items() if still}


def last_walk(run: Run) -> datetime | None:
    """Return when a spot was read last on a walk in a run's space."""
    rows = WalkEntry.objects.filter(
        walk__owner=run.owner, walk__space=run.space_id, walk__removed=False, state="read"
    )
    found: datetime | None = rows.order_by("-at").values_list("at", flat=True).first()
    return found


def symptom_of(run: Run, key: UUID) -> Entry:
    """Return what was seen by the entry's key, or answer 404."""
    entry: Entry = get_object_or_404(entries_of(run).filter(kind="symptom"), key=key)
    return entry


def before(run: Run, at: datetime) -> list[Entry]:
    """Return the latest of water, feed and warmth that was written down before, oldest first."""
    rows = entries_of(run).filter(at__lte=at).order_by("-at", "-id")
    found = [*rows.filter(kind="water")[:50], *rows.filter(kind="temperature")[:1]]
    return sorted(found, key=lambda entry: (entry.at, entry.pk))


def tries_of(grower: Grower) -> list[Entry]:
    """Return signs, what was tried for them and what came of it, of all runs, the oldest first."""
    rows = Entry.objects.of(grower).filter(replaced_by=None, gone=False)
    kinds = ("symptom", "try", "outcome")
    latest = rows.filter(kind__in=kinds).order_by("-id")[:MOST_TRIES]
    return list(reversed(latest))


MOST_TRIES = 600


def under_way(grower: Grower) -> list[Run]:
    """Return the grower's runs that have begun and not ended, the one last worked on first."""
    rows = Run.objects.of(grower).filter(begun_on__isnull=False, ended_on=None, removed=False)
    found = list(rows.select_related("space", "fixture__light_map", "crop")[:MOST_UNDER_WAY])
    for run in found:
        run.owner = grower
    return found


MOST_UNDER_WAY = 12
"""Runs that Today tells of."""
