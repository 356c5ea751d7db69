"""The light a run's plants really got, from what its log has: the core's ledger, and back."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import isfinite

import numpy as np
from numpy.typing import NDArray

from canopy.constants import NINETY
from canopy.daylight.background import too_warm
from canopy.fixture.ageing import NO_AGEING
from canopy.ledger.given import DAY_MIN, Cut, Given, Light, Stood, given
from canopy.ledger.makeup import make_up
from canopy.quantities import DLI_PER_UMOL_HOUR
from canopy.words import Said, said
from server.logbook.adapters.stood import LightPart, Lived, cut_of, lived_of, part_on
from server.logbook.adapters.tops import WEEK_D, day_of
from server.logbook.models import Entry
from server.runs.adapters.lamps import life_of
from server.runs.models import Run, Setting

Array = NDArray[np.float64]

MOST_DAYS = 400
"""The ledger is told of so many days, the latest."""

MOST_WIDE = 0.9


@dataclass(frozen=True)
class LightDay:
    """A day's DLI, nine times in ten inside; ``known`` where the lamp's settings are.

    ``stage`` and its band are of that day, ``spans`` from and until which minutes the lamp was on,
    lamp and tops above the floor at its noon (the lamp: as the day ended; nothing before it was
    set).
    """

    on: date
    dli: float
    low: float
    high: float
    lit_h: float
    known: bool
    stage: str
    dli_low: float
    dli_high: float
    lamp_cm: float | None
    tops_cm: float
    spans: list[tuple[float, float]]


@dataclass(frozen=True)
class LightAnswer:
    """The light really given, against the band of the stage it is in."""

    days: list[LightDay]
    dli_low: float
    dli_high: float
    stage: str
    line: Said
    make_up: Said | None


@dataclass(frozen=True, eq=False)
class Ledger:
    """The light of a run's days, and what it was worked out from."""

    parts: list[LightPart]
    lived: Lived
    found: Given
    until: float

    @property
    def today(self) -> int:
        """The last of its days."""
        return len(self.found.dli) - 1

    @property
    def part(self) -> LightPart:
        """The part of a stage it is in."""
        return part_on(self.parts, self.today)

    def stood_on(self, day: int) -> Stood | None:
        """Return how the lamp stood as a day ended."""
        at = int(self.found.stood[day])
        return None if at < 0 else self.lived.stood[at]

    def wide(self, day: int) -> float:
        """Return how far a day's light may be off, nine times in ten, as a share."""
        stood = self.stood_on(day)
        if stood is None:
            return MOST_WIDE
        above = stood.lamp_cm - float(self.lived.rising(np.array([day + 0.5]))[0])
        light = self.parts[stood.light].light
        return min(NINETY * light.sd(above, stood.dial_pct), MOST_WIDE)


def ledger_of(
    run: Run,
    parts: list[LightPart],
    entries: Sequence[Entry],
    settings: Sequence[Setting],
    now: datetime,
) -> Ledger | None:
    """Return the light really given on each day up to now; nothing where no setting is known.

    ``entries`` are those of tops, settings and outages that stand, oldest first; ``settings`` what
    was set at the bench.
    """
    if run.begun_on is None or not parts:
        return None
    last = now if run.ended_on is None else min(now, _evening(run, run.ended_on))
    until = max(day_of(run, last), 0.0)
    count = int(until) + 1
    lived = lived_of(run, parts, entries, settings)
    if not lived.stood:
        return None
    # what is still to come of today is not given yet
    to_come = Cut(until * DAY_MIN, 2 * DAY_MIN)
    cuts = [*(cut_of(run, e) for e in entries if e.kind == "outage"), to_come]
    standing = parts[-1].standing
    heat = parts[-1].problem.losses.heat
    warm = None if heat is None else too_warm(heat.mean_c, heat.swing_c, heat.off_above_c)
    besides = _besides(parts, count, until)
    besides += _apart(parts, lived, cuts, standing.space.ramp_min, count, warm)
    found = given(
        count,
        lived.stood,
        cuts,
        standing.space.ramp_min,
        [_light(part) for part in parts],
        lived.rising,
        besides,
        warm,
        _Left(run, parts[-1]),
    )
    return Ledger(parts, lived, found, until)


def _light(part: LightPart) -> Light:
    # what no day asks for is not worked out
    return lambda above_cm, dial_pct: part.light.mean(above_cm, dial_pct)


def _besides(parts: Sequence[LightPart], count: int, until: float) -> Array:
    """Return what daylight gave each day, of today as much as was until now; shape (days,)."""
    found = np.array([part_on(parts, day).daylight_dli(day) for day in range(count)])
    today = count - 1
    part = part_on(parts, today)
    course = part.daylight_ppfd(today)
    total = float(course.sum())
    so_far = float(course[: int((until - today) * DAY_MIN)].sum()) / total if total > 0 else 0.0
    found[today] = (found[today] - part.above_dli) * so_far + part.above_dli * (until - today)
    return found


def _apart(
    parts: Sequence[LightPart],
    lived: Lived,
    cuts: Sequence[Cut],
    ramp_min: float,
    count: int,
    warm: NDArray[np.bool_] | None,
) -> Array:
    """Return what lamps on timers of their own gave each day, shape (days,)."""
    if not any(part.problem.apart for part in parts):
        return np.zeros(count)

    def light(part: LightPart) -> Light:
        """Return their light as it would be, spread over all the time one of them is on."""
        on_h = sum(part.problem.losses.full_in((w,)) for w in part.problem.apart_windows)
        per_umol = on_h * DLI_PER_UMOL_HOUR
        return lambda above, _: part.light.apart_dli(above) / per_umol if on_h else above * 0.0

    stood = [
        Stood(
            each.from_min,
            each.lamp_cm,
            each.dial_pct,
            tuple((w.on_minute, w.hours * 60) for w in parts[each.light].problem.apart_windows),
            each.light,
        )
        for each in lived.stood
    ]
    lights = [light(part) for part in parts]
    return given(count, stood, cuts, ramp_min, lights, lived.rising, 0.0, warm).dli


@dataclass(frozen=True)
class _Left:
    """What is left of a lamp's light by the hours it was on since the run began.

    By those a fit was read at, where one is in use: that knows the lamp as it then was.
    """

    run: Run
    part: LightPart

    def __call__(self, lit_h: Array) -> Array:
        standing = self.part.standing
        life = life_of(standing.fixture)
        if life == NO_AGEING or not len(lit_h):
            return np.ones(len(lit_h))
        pieces = [lamp.piece for lamp in standing.lamps if lamp.fixture.pk == standing.fixture.pk]
        burned = next((piece.burned_h for piece in pieces if piece is not None), 0.0)
        read_at = 0
        fit = standing.learnt.tent
        if fit is not None and self.run.begun_on is not None:
            read_at = (fit.kept.read_on - self.run.begun_on).days
        known_at = burned + float(lit_h[min(max(read_at, 0), len(lit_h) - 1)])
        then = life.share_left(known_at)
        return np.array([life.share_left(burned + hours) / then for hours in lit_h.tolist()])


def light_of(run: Run, ledger: Ledger) -> LightAnswer:
    """Return a ledger as it is shown."""
    begun = run.begun_on
    assert begun is not None
    found, count = ledger.found, len(ledger.found.dli)
    noons = ledger.lived.rising(np.asarray(np.arange(count) + 0.5, dtype=float))
    first = max(count - MOST_DAYS, 0)
    days = []
    for day in range(first, count):
        part, stood, dli = part_on(ledger.parts, day), ledger.stood_on(day), float(found.dli[day])
        wide = ledger.wide(day)
        days.append(
            LightDay(
                on=begun + timedelta(days=day),
                dli=dli,
                low=dli * (1 - wide),
                high=dli * (1 + wide),
                lit_h=float(found.lit_h[day]),
                known=bool(found.known[day]),
                stage=part.part.stage.name,
                dli_low=part.target.dli_low,
                dli_high=part.target.dli_high,
                lamp_cm=None if stood is None else stood.lamp_cm,
                tops_cm=float(noons[day]),
                spans=list(found.spans[day]),
            )
        )
    part = ledger.part
    return LightAnswer(
        days=days,
        dli_low=part.target.dli_low,
        dli_high=part.target.dli_high,
        stage=part.part.stage.name,
        line=_line(ledger),
        make_up=None if run.ended_on is not None else made_up(ledger),
    )


def _evening(run: Run, on: date) -> datetime:
    """Return the end of a day by the grower's clock."""
    return datetime(on.year, on.month, on.day, 23, 59, 59, tzinfo=run.owner.zone)


def _week(ledger: Ledger) -> tuple[float, int] | None:
    """Return the mean of the last whole days of this stage, at most a week, and how many."""
    yesterday = ledger.today - 1
    count = min(WEEK_D, yesterday - ledger.part.first_day + 1)
    if count < 1:
        return None
    mean = ledger.found.mean_of_last(yesterday, count)
    if mean is None or not isfinite(mean):
        return None
    return mean, int(ledger.found.known[max(yesterday - count + 1, 0) : yesterday + 1].sum())


def made_up(ledger: Ledger) -> Said | None:
    """Return what to do of light that was missed in this stage, where some was."""
    week, stood = _week(ledger), ledger.stood_on(ledger.today)
    if week is None or stood is None:
        return None
    part, hours = ledger.part, sum(minutes for _, minutes in stood.windows) / 60
    above = stood.lamp_cm - float(ledger.lived.rising(np.array([ledger.until]))[0])
    light = part.light
    sun = part.problem.losses.day.sun
    found = make_up(
        *week,
        part.target,
        float(light.mean(above, stood.dial_pct)),
        hours,
        float(light.dli(above, stood.dial_pct, hours)),
        part.problem.timer_step_min,
        None if sun is None else part.problem.losses.day.day_h(hours),
    )
    return None if found is None else found.line


def _line(ledger: Ledger) -> Said:
    """Return the last whole days' mean against the band; today is not over."""
    week, part = _week(ledger), ledger.part
    low, high, stage = part.target.dli_low, part.target.dli_high, part.part.stage.name
    if week is None:
        return said("light.first", stage=stage, low=low, high=high)
    mean, days = week
    where = "below" if mean < low else "above" if mean > high else "inside"
    return said(f"light.{where}", mean=mean, days=float(days), stage=stage, low=low, high=high)
