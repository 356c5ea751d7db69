"""The light a run's plants really got, from what its log has: the core's ledger, and back."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import isfinite
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import RegularGridInterpolator

from canopy.crop.growth import MOST_POINTS, fit_tops
from canopy.ledger.given import DAY_MIN, Cut, Given, Stood, given
from canopy.measure.fit import NINETY
from canopy.plan.bench import bench
from canopy.plan.levers import LeverSpace
from canopy.words import Said, said
from server.crops.adapters import target_of
from server.logbook.adapters.tops import WEEK_D, day_of, rise_of
from server.logbook.models import Entry
from server.runs.adapters.planning import part_daylight, problem_of
from server.runs.adapters.standing import Standing, whole_stage
from server.runs.models import Run, Setting

Array = NDArray[np.float64]

MOST_DAYS = 400
"""The ledger is told of so many days, the latest."""


@dataclass(frozen=True)
class LightDay:
    """A day's DLI, nine times in ten inside; ``known`` where the lamp's settings are."""

    on: date
    dli: float
    low: float
    high: float
    lit_h: float
    known: bool


@dataclass(frozen=True)
class LightAnswer:
    """The light really given, against the band of the stage it is in."""

    days: list[LightDay]
    dli_low: float
    dli_high: float
    stage: str
    line: Said


@dataclass
class _State:
    """What is known of the lamp so far."""

    lamp_cm: float | None = None
    dial_pct: float | None = None
    windows: tuple[tuple[float, float], ...] = ()

    def stood(self, at_min: float) -> Stood | None:
        """Return it as a setting, once all of it is known."""
        if self.lamp_cm is None or self.dial_pct is None or not self.windows:
            return None
        return Stood(at_min, self.lamp_cm, self.dial_pct, self.windows)


Change = tuple[datetime, dict[str, Any]]


def _changes(entries: Sequence[Entry], settings: Sequence[Setting]) -> list[Change]:
    """Return what was set, in the log or at the bench, in order of time."""
    found: list[Change] = [(e.at, dict(e.values)) for e in entries if e.kind == "setting"]
    for row in settings:
        if row.holds_from is None:
            continue
        values: dict[str, Any] = {"windows": row.windows}
        if row.height_cm is not None:
            values["height_cm"] = row.height_cm
        if row.dial_pct is not None:
            values["dial_pct"] = row.dial_pct
        found.append((row.holds_from, values))
    return sorted(found, key=lambda change: change[0])


def _windows(
    values: dict[str, Any], before: tuple[tuple[float, float], ...], usual_on: float
) -> tuple[tuple[float, float], ...]:
    """Return the hours a change leaves, from when they were on before; no hours are hours too."""
    if values.get("windows"):
        return tuple((float(w["on_minute"]), float(w["hours"]) * 60) for w in values["windows"])
    if "hours" not in values and not (before and "on_minute" in values):
        return before
    on, minutes = before[0] if before else (usual_on, 0.0)
    if "hours" in values:
        minutes = float(values["hours"]) * 60
    return ((float(values.get("on_minute", on)), minutes),)


def _cut(run: Run, entry: Entry) -> Cut:
    """Return a power cut; without a moment of its own it ended when it was written down."""
    minutes = float(entry.values["minutes"])
    written = day_of(run, entry.at) * DAY_MIN
    begins = entry.values.get("from_minute")
    if begins is None:
        return Cut(written - minutes, minutes)
    at = written // DAY_MIN * DAY_MIN + float(begins)
    # what begins later in the day than it was written was of the evening before
    return Cut(at - DAY_MIN if at > written else at, minutes)


def _mean_at(space: LeverSpace) -> Any:
    """Return the mean PPFD by height and dial, between and up to those that were worked out."""
    heights, dials, mean = space.heights_cm, space.dials_pct, space.mean
    if len(heights) == 1:
        heights, mean = np.array([heights[0], heights[0] + 1]), np.repeat(mean, 2, axis=0)
    if len(dials) == 1:
        dials, mean = np.array([dials[0], dials[0] + 1]), np.repeat(mean, 2, axis=1)
    table = RegularGridInterpolator((heights, dials), mean)

    def at(height_cm: Array, dial_pct: Array) -> Array:
        h = np.clip(height_cm, heights[0], heights[-1])
        d = np.clip(dial_pct, dials[0], dials[-1])
        # below its lowest mark a dial is off
        return np.where(dial_pct <= 0, 0.0, table(np.column_stack([h, d])))

    return at


def light_of(
    run: Run,
    standing: Standing,
    entries: Sequence[Entry],
    settings: Sequence[Setting],
    now: datetime,
) -> LightAnswer | None:
    """Return the light really given on each day up to now; nothing where no setting is known.

    ``entries`` are those of tops, settings and outages that stand, oldest first; ``settings`` what
    was set at the bench.
    """
    begun = run.begun_on
    if begun is None or not standing.stages:
        return None
    measured = [e for e in entries if e.kind == "tops"][-MOST_POINTS:]
    tops = None
    if measured:
        days = [day_of(run, e.at) for e in measured]
        tops = fit_tops(days, [e.values["tops_cm"] for e in measured], rise_of(run))

    def tops_cm(at_days: Array) -> Array:
        return np.zeros(len(at_days)) if tops is None else np.asarray(tops.at(at_days)[1])

    stood, state = [], _State()
    for at, values in _changes(entries, settings):
        if "height_cm" in values:
            here = float(tops_cm(np.array([day_of(run, at)]))[0])
            state.lamp_cm = here + float(values["height_cm"])
        if "dial_pct" in values:
            state.dial_pct = float(values["dial_pct"])
        state.windows = _windows(values, state.windows, float(run.on_minute))
        now_stood = state.stood(max(day_of(run, at), 0.0) * DAY_MIN)
        if now_stood is not None:
            stood.append(now_stood)
    if not stood:
        return None
    last = now if run.ended_on is None else min(now, _evening(run, run.ended_on))
    until = day_of(run, last)
    count = int(until) + 1
    # what is still to come of today is not given yet
    cuts = [_cut(run, e) for e in entries if e.kind == "outage"]
    cuts.append(Cut(until * DAY_MIN, 2 * DAY_MIN))
    stage = standing.stage(run.stage_id or standing.stages[0].pk)
    part = whole_stage(stage)
    ready = bench(problem_of(standing, part, standing.lamps, standing.on_minute))
    daylight = float(part_daylight(standing, part).dli.mean())
    found = given(
        count, stood, cuts, standing.space.ramp_min, _mean_at(ready.space), tops_cm, daylight
    )
    wide = min(NINETY * _sd(ready.space, stood[-1], tops_cm, until), 0.9)
    target = target_of(stage, standing.space.co2_enriched)
    first = max(count - MOST_DAYS, 0)
    return LightAnswer(
        days=[
            LightDay(
                on=begun + timedelta(days=day),
                dli=float(found.dli[day]),
                low=float(found.dli[day]) * (1 - wide),
                high=float(found.dli[day]) * (1 + wide),
                lit_h=float(found.lit_h[day]),
                known=bool(found.known[day]),
            )
            for day in range(first, count)
        ],
        dli_low=target.dli_low,
        dli_high=target.dli_high,
        stage=stage.name,
        line=_line(found, count, stage.name, target.dli_low, target.dli_high),
    )


def _evening(run: Run, on: date) -> datetime:
    """Return the end of a day by the grower's clock."""
    return datetime(on.year, on.month, on.day, 23, 59, 59, tzinfo=run.owner.zone)


def _sd(space: LeverSpace, stood: Stood, tops_cm: Any, day: float) -> float:
    """Return how far the mean may be wrong where the lamp stands now, as a share."""
    height = stood.lamp_cm - float(tops_cm(np.array([day]))[0])
    h = int(np.abs(space.heights_cm - height).argmin())
    d = int(np.abs(space.dials_pct - stood.dial_pct).argmin())
    return float(space.doubt.at(h, d).mean)


def _line(found: Given, count: int, stage: str, low: float, high: float) -> Said:
    """Return the last whole days' mean against the band; today is not over."""
    yesterday = count - 2
    mean = found.mean_of_last(yesterday, WEEK_D) if yesterday >= 0 else None
    if mean is None or not isfinite(mean):
        return said("light.first", stage=stage, low=low, high=high)
    days = float(min(WEEK_D, int(found.known[: count - 1].sum())))
    where = "below" if mean < low else "above" if mean > high else "inside"
    return said(f"light.{where}", mean=mean, days=days, stage=stage, low=low, high=high)
