"""What is to be done for a run today, and where lamp, tops and light stand."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

import numpy as np
from numpy.typing import ArrayLike, NDArray

from canopy.constants import MOL_PER_UMOL
from canopy.crop.growth import Tops
from canopy.daylight.lampday import Window
from canopy.daylight.rest import LampUntil, lamp_until
from canopy.errors import CanopyError
from canopy.ledger.due import (
    Away,
    Dial,
    Due,
    Lately,
    Planned,
    Standing,
    ToSet,
    away,
    in_order,
    levers_due,
    looks_due,
    stage_due,
    stays,
    timer_due,
)
from canopy.ledger.due import DueKind as DueKind
from canopy.ledger.given import DAY_MIN
from canopy.plan.season import DayRow
from canopy.plan.upkeep import Levers, Rising, Upkeep
from canopy.words import Said, Unit, said, worded
from server.logbook.adapters.light import Ledger, made_up
from server.logbook.adapters.stood import LightPart, Lived, part_on
from server.logbook.adapters.tops import LEAST_RISE_CM, day_of
from server.logbook.models import Entry
from server.runs.adapters.planning import days_before
from server.runs.adapters.season import SeasonAnswer
from server.runs.adapters.standing import Standing as RunStanding
from server.runs.adapters.standing import file_of
from server.runs.models import Run

Array = NDArray[np.float64]

LOOK_AHEAD = 14
"""So many days are looked ahead, and those of the plan told."""

LOOK_BACK = 60
"""And back; and ahead where nothing is to be done."""

HURRIES = ("set", "timer", "stage", "harvest")
"""Kinds of things that are late after their day; a look or a measurement is only due."""

MOST_AWAY = 60


@dataclass(frozen=True)
class ShownDue:
    """One thing to do, by the date; ``late_days`` where it should have been done."""

    key: str
    kind: DueKind
    on: date
    late_days: int
    lines: tuple[Said, ...]
    why: Said | None
    to_set: ToSet | None
    holds_until: date | None
    stage_id: int | None
    of: str | None


@dataclass(frozen=True)
class ShownStanding:
    """How the lamp stands, above the tops as they are now and above the floor, and what it gives.

    ``dli_so_far`` is of today until now, ``dli`` of a whole day.
    """

    height_cm: float
    lamp_cm: float
    closest_cm: float
    dial_pct: float
    windows: tuple[Window, ...]
    set_on: date
    dli_so_far: float
    window_dli: float
    dli: float


@dataclass(frozen=True)
class Coming:
    """What the plan has to do on a day to come."""

    on: date
    lines: tuple[Said, ...]


@dataclass(frozen=True)
class TodayRun:
    """A run today: what to do, where things stand, what comes.

    Without a ``stands`` nothing is known of the lamp; ``nothing`` is said where nothing is due.
    """

    run_id: int
    day: int
    stage: str
    stage_day: int
    stage_days: int
    due: list[ShownDue]
    nothing: Said | None
    stands: ShownStanding | None
    tops_cm: float | None
    tops_low: float | None
    tops_high: float | None
    rate_cm_d: float | None
    dli_low: float
    dli_high: float
    planned_dli: float
    until: LampUntil | None
    make_up: Said | None
    coming: list[Coming]


@dataclass(frozen=True)
class Broken:
    """A run of which nothing can be told, and why."""

    run_id: int
    why: Said


def broken(run: Run, error: CanopyError, unit: Unit) -> Broken:
    """Return that a run's day cannot be told."""
    return Broken(run.pk, said("today.broken", why=worded(error.said, unit)))


@dataclass(frozen=True, eq=False)
class Day:
    """All a run's day is judged by."""

    run: Run
    standing: RunStanding
    parts: list[LightPart]
    lived: Lived
    ledger: Ledger | None
    season: SeasonAnswer
    now: datetime

    @property
    def until(self) -> float:
        """Now, in days of the run."""
        return max(day_of(self.run, self.now), 0.0)

    @property
    def today(self) -> int:
        """The day of the run it is, from 0."""
        return int(self.until)

    @property
    def part(self) -> LightPart:
        """The part of a stage it is in."""
        return part_on(self.parts, self.today)

    @property
    def rows(self) -> dict[int, DayRow]:
        """The plan's days."""
        return {row.day: row for row in self.season.rows}

    @property
    def row(self) -> DayRow | None:
        """The plan's day."""
        return self.rows.get(self.today)

    @property
    def dial(self) -> Dial:
        """How its dial is spoken of."""
        return Dial(self.part.problem.dimmer.kind, self.part.light)

    def date_of(self, day: int) -> date:
        """Return a day of the run as a date."""
        assert self.run.begun_on is not None
        return self.run.begun_on + timedelta(days=day)

    def rising(self, days: int) -> Rising:
        """Return the tops now and at the noons of so many days in all."""
        at = self.today + np.arange(days) + 0.5
        at[0] = self.until
        return _rising(self.lived, at)

    def upkeep(self, days: int) -> Upkeep:
        """Return how long levers last, over so many days but no longer than the stage."""
        left = self.part.first_day + self.part.part.days - self.today
        return _upkeep(self.season, self.part, self.rising(max(min(days, left), 1)))

    @property
    def stands(self) -> Standing | None:
        """How the lamp was set last."""
        state = self.lived.state
        if state.lamp_cm is None or state.dial_pct is None or state.windows is None:
            return None
        windows = tuple(Window(int(on), minutes / 60) for on, minutes in state.windows)
        return Standing(state.lamp_cm, state.dial_pct, windows, state.set_day)

    @property
    def planned(self) -> Planned | None:
        """What the plan has for today."""
        row = self.row
        if row is None:
            return None
        return Planned(
            above_tops_cm=row.lamp_cm - row.tops_cm,
            dial_pct=row.dial_pct,
            windows=row.windows,
            dli=row.dli,
            asked_day=_asked(self.season.rows, self.today),
        )

    def failing_since(self, stands: Standing, hours: float) -> int | None:
        """Return the day since which the lamp fails as it hangs, as the tops were measured."""
        part = self.part
        first = max(stands.set_day, part.first_day, self.today - LOOK_BACK)
        at = np.arange(first, self.today + 1) + 0.5
        at[-1] = self.until
        rising = _rising(self.lived, at)
        upkeep = _upkeep(self.season, part, replace(rising, most_cm=rising.likely_cm))
        lasts = upkeep.lasts(Levers(stands.lamp_cm, stands.dial_pct, hours))
        return first + lasts.days if lasts.fails else None


def _rising(lived: Lived, at: ArrayLike) -> Rising:
    likely: Array = lived.rising(np.asarray(at, dtype=float))
    most = likely if lived.tops is None else lived.tops.at(at)[2]
    return Rising(likely, np.maximum(np.maximum.accumulate(most), likely))


def _upkeep(season: SeasonAnswer, part: LightPart, rising: Rising) -> Upkeep:
    problem = part.problem
    key = (part.part.stage.pk, part.part.from_day)
    planned = next((s.planned for s in season.stages if (s.stage_id, s.from_day) == key), None)
    ignored = set(planned.relaxed) if planned else set()
    if problem.over_cap:
        ignored.add("hot_spot_cap")
    return Upkeep(
        light=part.light,
        target=problem.target,
        rising=rising,
        closest_cm=problem.lowest_cm,
        highest_cm=problem.highest_step * problem.reach.step_cm,
        step_cm=problem.reach.step_cm,
        ignored=frozenset(ignored),
        fixed=problem.fixed,
    )


def _asked(rows: Sequence[DayRow], today: int) -> int:
    """Return the last day until today on which the plan moved lamp or dial."""
    asked, before = 0, None
    for row in rows:
        if row.day > today:
            break
        if before is None or (row.lamp_cm, row.dial_pct) != before:
            asked = row.day
        before = (row.lamp_cm, row.dial_pct)
    return asked


def lately_of(
    run: Run, entries: Sequence[Entry], lived: Lived, walked: datetime | None, fitted: bool
) -> Lately:
    """Return what was done lately. A fit that is in use counts as a walk as the run began."""

    def last(*kinds: str) -> int | None:
        found = [int(day_of(run, e.at)) for e in entries if e.kind in kinds]
        return max(found, default=None)

    walk = None if walked is None else int(day_of(run, walked))
    if walk is None and fitted:
        walk = 0
    return Lately(
        tops=last("tops"),
        walk=walk,
        changed=lived.changed[-1] if lived.changed else None,
        noted=last("symptom", "note", "outcome"),
        seen=last("symptom"),
        tried=last("try"),
        cut=last("outage"),
        growing=lived.tops is None or lived.tops.rate_cm_d > LEAST_RISE_CM,
    )


def today_of(
    day: Day,
    lately: Lately,
    answered: Collection[str],
    sensed: Array | None,
    seen_key: str | None = None,
) -> TodayRun:
    """Return a run's day; ``sensed`` is what a light sensor showed, minute by minute.

    ``seen_key`` is the entry of what was seen on plants last.
    """
    run, part, stands, planned = day.run, day.part, day.stands, day.planned
    stage = part.part.stage
    first = days_before(day.standing, replace(part.part, from_day=0))
    lengths = {row["id"]: int(row["days"]) for row in file_of(run).crop["stages"]}
    ends = first + lengths.get(stage.pk, stage.days)
    at = [s.pk for s in day.standing.stages].index(stage.pk)
    after = day.standing.stages[at + 1 : at + 2]
    number = run.lived.filter(stage=stage.pk).values_list("pk", flat=True).first() or 0
    found: list[Due | None] = []
    upkeep = day.upkeep(LOOK_AHEAD)
    tops = float(upkeep.rising.likely_cm[0])
    if planned is not None and stands is None:
        found.append(_first(day, planned, tops))
    elif planned is not None and stands is not None:
        since = day.failing_since(stands, planned.hours)
        gap = day.standing.gap_days
        found.append(levers_due(day.today, stands, planned, upkeep, day.dial, gap, since))
        step = part.problem.timer_step_min
        found.append(timer_due(day.today, stands, planned, step, tops))
    following = after[0].name if after else None
    found.append(stage_due(day.today, stage.name, ends, following, number))
    found += looks_due(day.today, lately)
    due = in_order(day.today, found, answered)
    to_begin = after[0].pk if after else None
    curve = day.lived.tops
    low, high = (None, None) if curve is None else _ends(curve, day.until)
    return TodayRun(
        run_id=run.pk,
        day=day.today + 1,
        stage=stage.name,
        stage_day=day.today - first + 1,
        stage_days=ends - first,
        due=[_shown(day, each, to_begin, seen_key) for each in due],
        nothing=None if due else _nothing(day, answered_any=any(each for each in found)),
        stands=None if stands is None else _stands(day, stands, planned, tops, sensed),
        tops_cm=tops,
        tops_low=low,
        tops_high=high,
        rate_cm_d=None if curve is None else curve.rate_cm_d,
        dli_low=part.target.dli_low,
        dli_high=part.target.dli_high,
        planned_dli=0.0 if planned is None else planned.dli,
        until=_until(day, stands, planned, tops, sensed),
        make_up=None if day.ledger is None else made_up(day.ledger),
        coming=_coming(day),
    )


def _ends(curve: Tops, at: float) -> tuple[float, float]:
    low, _, high = curve.at([at])
    return float(low[0]), float(high[0])


def _first(day: Day, planned: Planned, tops_cm: float) -> Due:
    """Return that lamp, dial and timer are to be set for the first time, as the plan has them."""
    row = day.row
    assert row is not None
    lamp = tops_cm + planned.above_tops_cm
    figures: dict[str, float | str] = {
        "lamp_cm": lamp,
        "height_cm": planned.above_tops_cm,
        "stage": row.stage,
    }
    watts = row.watts
    match day.dial.kind:
        case "none":
            line = said("season.begins_full", **figures)
        case "unmarked":
            line = said("season.begins_meter", watts=watts, **figures)
        case _:
            line = said("season.begins", dial_pct=planned.dial_pct, watts=watts, **figures)
    to_set = ToSet(planned.above_tops_cm, lamp, planned.dial_pct, planned.windows)
    return Due("set", "set:first", day.today, (line,), said("due.first"), to_set)


def _shown(day: Day, due: Due, to_begin: int | None, seen_key: str | None) -> ShownDue:
    holds = due.holds_days
    return ShownDue(
        key=due.key,
        kind=due.kind,
        on=day.date_of(due.day),
        late_days=max(day.today - due.day, 0) if due.kind in HURRIES else 0,
        lines=due.lines,
        why=due.why,
        to_set=due.to_set,
        holds_until=None if holds is None else day.date_of(day.today + holds),
        stage_id=to_begin if due.kind == "stage" else None,
        of=seen_key if due.kind == "seen" else None,
    )


def _nothing(day: Day, answered_any: bool) -> Said | None:
    """Return that nothing is left to do, and for how long the lamp can stay as it is."""
    if answered_any:
        return said("today.put_off")
    stands, planned = day.stands, day.planned
    if stands is None or planned is None:
        return None
    levers = Levers(stands.lamp_cm, stands.dial_pct, planned.hours)
    return stays(day.upkeep(LOOK_BACK), levers)


def _window_dli(day: Day, sensed: Array | None) -> float:
    """Return what daylight gave so far today: by a sensor where one is there, else by the sky."""
    part, minute = day.part, int((day.until - day.today) * DAY_MIN)
    if sensed is None:
        course = part.daylight_ppfd(day.today)
        return float(course[:minute].sum()) * 60 * MOL_PER_UMOL
    lamp = np.zeros(int(DAY_MIN))
    stood = None if day.ledger is None else day.ledger.stood_on(day.ledger.today)
    if stood is not None and day.ledger is not None:
        above = stood.lamp_cm - float(day.lived.rising(np.array([day.until]))[0])
        mean = float(part.light.mean(above, stood.dial_pct))
        for on, off in day.ledger.found.spans[day.ledger.today]:
            lamp[int(on) : int(np.ceil(off))] = mean
    besides = np.maximum(np.nan_to_num(sensed) - lamp, 0.0)[:minute]
    return float(besides.sum()) * 60 * MOL_PER_UMOL


def _stands(
    day: Day, stands: Standing, planned: Planned | None, tops_cm: float, sensed: Array | None
) -> ShownStanding:
    part, above = day.part, stands.lamp_cm - tops_cm
    so_far = 0.0 if day.ledger is None else float(day.ledger.found.dli[-1])
    window = _window_dli(day, sensed)
    if sensed is not None:
        so_far += window - _window_dli(day, None)
    dli = float(part.light.dli(above, stands.dial_pct, stands.hours))
    return ShownStanding(
        height_cm=above,
        lamp_cm=stands.lamp_cm,
        closest_cm=part.problem.lowest_cm,
        dial_pct=stands.dial_pct,
        windows=stands.windows,
        set_on=day.date_of(stands.set_day),
        dli_so_far=max(so_far, 0.0),
        window_dli=window,
        dli=dli - part.light.space.daylight_dli + part.daylight_dli(day.today),
    )


def _until(
    day: Day,
    stands: Standing | None,
    planned: Planned | None,
    tops_cm: float,
    sensed: Array | None,
) -> LampUntil | None:
    """Return until when the lamp has to be on today, where there is daylight."""
    part = day.part
    coming = part.daylight_ppfd(day.today)
    if stands is None or planned is None or not stands.windows or not coming.any():
        return None
    window = _window_dli(day, sensed)
    so_far = 0.0 if day.ledger is None else float(day.ledger.found.dli[-1])
    lamp = max(so_far - _window_dli(day, None), 0.0)
    on = stands.windows[0].on_minute
    ends = stands.windows[-1].on_minute + round(stands.windows[-1].hours * 60)
    target = part.target
    if target.response != "short-day" and not target.unbroken_night:
        up = np.flatnonzero(coming)
        begins = min(on, int(up[0]))
        ends = max(begins + round(target.longest_day_h * 60), ends)
    above = stands.lamp_cm - tops_cm
    return lamp_until(
        now_min=int((day.until - day.today) * DAY_MIN),
        window_dli=window,
        lamp_dli=lamp,
        coming=coming,
        mean_ppfd=float(part.light.mean(above, stands.dial_pct)),
        aim_dli=planned.dli,
        on_minute=on,
        last_minute=min(ends, int(DAY_MIN)),
    )


def _coming(day: Day) -> list[Coming]:
    """Return what the plan has to do on the days to come."""
    last = day.today + LOOK_AHEAD
    return [
        Coming(day.date_of(row.day), row.tasks)
        for row in day.season.rows
        if day.today < row.day <= last and row.tasks
    ]


@dataclass(frozen=True)
class AwayAnswer:
    """What holds while nobody comes, by the date until which."""

    asked_days: int
    days: int
    until: date
    lines: tuple[Said, ...]
    to_set: ToSet | None


def away_for(day: Day, days: int) -> AwayAnswer | None:
    """Return one setting that holds for so many days; nothing where nothing is known."""
    stands, planned = day.stands, day.planned
    if stands is None or planned is None:
        return None
    found: Away = away(days, stands, planned, day.upkeep(days), day.dial)
    until = day.date_of(day.today + found.days)
    return AwayAnswer(days, found.days, until, found.lines, found.to_set)
