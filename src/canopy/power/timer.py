"""The clock of a lamp's timer, and the one on the wall."""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta, tzinfo

NOON = time(12)
"""Clocks change at night: by noon they have."""


@dataclass(frozen=True)
class TimerClock:
    """A timer that was set by the wall clock of a place.

    Parameters
    ----------
    zone : tzinfo
        Of the place.
    set_on : date
        The day it was set.
    follows : bool
        Whether it goes with summer time; plain timers do not.
    """

    zone: tzinfo
    set_on: date
    follows: bool = False

    def ahead_min(self, day: date) -> int:
        """Return by how many minutes the wall clock is ahead of the timer on a day.

        >>> from zoneinfo import ZoneInfo
        >>> timer = TimerClock(ZoneInfo("Europe/Berlin"), date(2026, 3, 1))
        >>> timer.ahead_min(date(2026, 3, 28)), timer.ahead_min(date(2026, 3, 29))
        (0, 60)
        """
        if self.follows:
            return 0
        return round((self._offset(day) - self._offset(self.set_on)) / timedelta(minutes=1))

    def _offset(self, day: date) -> timedelta:
        return datetime.combine(day, NOON, self.zone).utcoffset() or timedelta(0)
