"""The calendar a grower's other programs subscribe to: what is due, of every run under way."""

import secrets

from django.utils import timezone

from server.accounts.models import Grower
from server.common.rows import Expected, held, keep
from server.common.words import unit_of
from server.devices.services.managing import hashed
from server.logbook import selectors
from server.logbook.adapters.calendar import calendar_of
from server.logbook.adapters.today import TodayRun
from server.logbook.models import Feed
from server.logbook.services.days import day, today
from server.runs.adapters.season import SeasonAnswer
from server.runs.models import Run


def feed_of(grower: Grower) -> Feed:
    """Return the grower's feed; made when it is first asked for, without an address."""
    feed: Feed
    feed, _ = Feed.objects.of(grower).get_or_create(owner=grower)
    return feed


def new_address(grower: Grower, expected: Expected = None) -> tuple[Feed, str]:
    """Return a new secret part of the address, told this once; the one before is dead at once."""
    token = secrets.token_urlsafe(32)
    with held(feed_of(grower), expected) as row:
        keep(row, token_hash=hashed(token), token_made_at=timezone.now())
    return row, token


def revoke(grower: Grower, expected: Expected = None) -> Feed:
    """Take the address away: nobody can ask at it any more."""
    with held(feed_of(grower), expected) as row:
        keep(row, token_hash=None, token_made_at=None)
    return row


def calendar(grower: Grower) -> bytes:
    """Return what is due and what comes for every run under way, as iCalendar."""
    now = timezone.now()
    found: list[tuple[Run, TodayRun, SeasonAnswer]] = []
    for run in selectors.under_way(grower):
        told = today(run, now)
        if isinstance(told, TodayRun):
            found.append((run, told, day(run, now).season))
    return calendar_of(found, grower.today(), now, unit_of(grower))
