"""What the plan has the lamps do on a day, by the wall clock."""

from dataclasses import dataclass
from datetime import date

import numpy as np

from canopy.crop.night import DAY_MIN
from canopy.crop.photoperiod import off_minute
from canopy.daylight.lampday import Window
from canopy.errors import CanopyError
from canopy.power.metered import Floats
from canopy.power.schedule import Switching
from server.runs.adapters.planning import Kept
from server.runs.adapters.season import season_of
from server.runs.adapters.standing import Standing


@dataclass(frozen=True)
class PlannedDay:
    """A day of a plan: the lamps' watts minute by minute, and when each channel is on.

    ``day`` counts from the plan's first; ``height_cm`` is from the rail to the tops.
    """

    day: int
    watts: Floats
    channels: tuple[Switching, ...]
    ramp_min: int
    dial_pct: float
    height_cm: float
    tops_cm: float

    @property
    def switched(self) -> list[int]:
        """Minutes at which a lamp comes on or goes off."""
        found = np.flatnonzero(np.diff(self.watts, prepend=self.watts[-1]))
        return [int(minute) for minute in found]


def planned_day(run: Standing, kept: Kept, on: date) -> PlannedDay:
    """Return the day of a plan that a date is; before it begins its first, later its last.

    Raises
    ------
    CanopyError
        When no stage of it can be.
    """
    season = season_of(run, kept)
    if not season.rows:
        raise CanopyError("No stage of this plan can be; look at the season first.", "stages")
    at = (on - season.first).days
    row = min(season.rows, key=lambda each: abs(each.day - at))
    windows = [_wall(window, row.ahead_min) for window in row.windows]
    watts = np.zeros(DAY_MIN)
    for window in windows:
        watts[window.lit()] += row.watts
    ramp = run.space.ramp_min
    channels = [_switching(1, window, ramp, row.dial_pct) for window in windows]
    stage = next(s for s in reversed(season.stages) if s.first_day <= row.day)
    groups = [] if stage.planned is None else stage.planned.groups
    beside = [group for group in groups if group.own_timer and group.windows]
    for channel, group in enumerate(beside, 2):
        for window in (_wall(each, row.ahead_min) for each in group.windows):
            watts[window.lit()] += group.watts
            channels.append(_switching(channel, window, ramp, group.dial_pct))
    return PlannedDay(
        day=row.day,
        watts=watts,
        channels=tuple(sorted(channels)),
        ramp_min=ramp,
        dial_pct=row.dial_pct,
        height_cm=row.lamp_cm - row.tops_cm,
        tops_cm=row.tops_cm,
    )


def _wall(window: Window, ahead_min: int) -> Window:
    return Window((window.on_minute + ahead_min) % DAY_MIN, window.hours)


def _switching(channel: int, window: Window, ramp_min: int, output_pct: float) -> Switching:
    off = off_minute(window.on_minute, window.hours)
    return Switching(channel, window.on_minute, off, ramp_min, round(output_pct, 1))
