"""A run's days: gathered from its rows for the ledger, and for what is to be done today."""

from datetime import datetime

from django.utils import timezone

from server.accounts.models import Grower
from server.common.problems import CanopyError
from server.common.words import unit_of
from server.devices.services.watching import light_today
from server.logbook import selectors
from server.logbook.adapters.light import LightAnswer, ledger_of, light_of
from server.logbook.adapters.seen import SeenAnswer, facts_of, seen_of, tried_before
from server.logbook.adapters.stood import LightPart, light_parts, lived_of
from server.logbook.adapters.today import (
    AwayAnswer,
    Broken,
    Day,
    TodayRun,
    away_for,
    broken,
    lately_of,
    today_of,
)
from server.logbook.adapters.tops import day_of
from server.logbook.models import Entry
from server.runs.adapters.season import season_of
from server.runs.adapters.standing import Standing, kept_of, plans_lived, standing_of
from server.runs.models import Run


def parts_lived(run: Run, standing: Standing, now: datetime) -> list[LightPart]:
    """Return the parts of stages a run went through, by the plans it then had."""
    until = int(max(day_of(run, now), 0.0))
    return light_parts(plans_lived(run, standing), until)


def light(run: Run) -> LightAnswer | None:
    """Return the light really given each day; nothing where no setting is known."""
    if run.begun_on is None:
        return None
    now = timezone.now()
    parts = parts_lived(run, standing_of(run), now)
    entries, settings = selectors.of_light(run), selectors.set_at_bench(run)
    ledger = ledger_of(run, parts, entries, settings, now)
    return None if ledger is None else light_of(run, ledger)


def day(run: Run, now: datetime) -> Day:
    """Return all that a begun run's day is judged by.

    Raises
    ------
    CanopyError
        When no stage of its plan can be.
    """
    standing = standing_of(run)
    parts = parts_lived(run, standing, now)
    if not parts:
        raise CanopyError("This run has no day yet: it begins later.")
    season = season_of(standing, kept_of(run))
    entries, settings = selectors.of_late(run, now), selectors.set_at_bench(run)
    ledger = ledger_of(run, parts, entries, settings, now)
    lived = lived_of(run, parts, entries, settings) if ledger is None else ledger.lived
    return Day(run, standing, parts, lived, ledger, season, now)


def today(run: Run, now: datetime) -> TodayRun | Broken:
    """Return what is to be done for a run today, or why that cannot be told."""
    try:
        found = day(run, now)
        walked, answered = selectors.last_walk(run), selectors.answered(run, now)
        looks = selectors.of_looks(run, now)
        lately = lately_of(
            run,
            looks,
            found.lived,
            walked,
            found.standing.learnt.tent is not None,
        )
        sensed = light_today(run) if found.standing.space.daylight is not None else None
        signs = [str(entry.key) for entry in looks if entry.kind == "symptom"]
        return today_of(found, lately, answered, sensed, signs[0] if signs else None)
    except CanopyError as error:
        return broken(run, error, unit_of(run.owner))


def todays(grower: Grower) -> list[TodayRun | Broken]:
    """Return the day of every run that is under way, the one last worked on first."""
    now = timezone.now()
    return [today(run, now) for run in selectors.under_way(grower)]


def seen(run: Run, entry: Entry) -> SeenAnswer:
    """Return what may be behind what was seen in a run's log, by the light up to then."""
    now = timezone.now()
    found = day(run, now)
    at = min(entry.at, now)
    entries = [each for each in selectors.of_light(run) if each.at <= at]
    ledger = ledger_of(run, found.parts, entries, selectors.set_at_bench(run), at)
    facts = facts_of(run, entry, ledger, selectors.before(run, at))
    return seen_of(found, entry, facts, tried_before(selectors.tries_of(run.owner), at))


def away(run: Run, days: int) -> AwayAnswer | None:
    """Return one setting that holds for so many days."""
    return away_for(day(run, timezone.now()), days)
