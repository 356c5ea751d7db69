"""How the lamp of a run stood, from what was set in the log or at the bench, to the core's."""

from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from canopy.crop.growth import MOST_POINTS, Tops, fit_tops
from canopy.crop.targets import StageTarget
from canopy.daylight.background import Background
from canopy.ledger.given import DAY_MIN, Cut, Stood
from canopy.plan.bench import bench
from canopy.plan.between import Between
from canopy.plan.problem import StageProblem
from server.logbook.adapters.tops import day_of, rise_of
from server.logbook.models import Entry
from server.runs.adapters.planning import above_of, days_before, part_daylight, problem_of
from server.runs.adapters.standing import StagePart, Standing
from server.runs.models import Run, Setting

Array = NDArray[np.float64]
Windows = tuple[tuple[float, float], ...]
Change = tuple[datetime, dict[str, Any]]


@dataclass(frozen=True, eq=False)
class LightPart:
    """A part of a stage as a plan has it: from which day of the run on, and its light."""

    first_day: int
    standing: Standing
    part: StagePart

    @cached_property
    def problem(self) -> StageProblem:
        """The part as the core's problem."""
        standing = self.standing
        return problem_of(standing, self.part, standing.lamps, standing.on_minute)

    @cached_property
    def light(self) -> Between:
        """The light of its lamps at any height and dial."""
        return Between(bench(self.problem).space)

    @property
    def target(self) -> StageTarget:
        """What it asks for."""
        return self.problem.target

    @cached_property
    def daylight(self) -> Background:
        """The daylight over its days."""
        return part_daylight(self.standing, self.part)

    @cached_property
    def above_dli(self) -> float:
        """What falls through from a level above."""
        return above_of(self.standing, self.part).dli

    def daylight_dli(self, day: int) -> float:
        """Return what comes besides the lamps on a day of the run."""
        dli = self.daylight.dli
        return float(dli[min(max(day - self.first_day, 0), len(dli) - 1)]) + self.above_dli

    def daylight_ppfd(self, day: int) -> Array:
        """Return the daylight of a day of the run minute by minute, shape (1440,)."""
        rows = self.daylight.ppfd
        course = rows[min(max(day - self.first_day, 0), len(rows) - 1)]
        return np.repeat(course, int(DAY_MIN) // len(course))


def light_parts(plans: Sequence[tuple[int, Standing]], until_day: int) -> list[LightPart]:
    """Return the parts of stages a run went through, in order, by the plans it then had.

    ``plans`` are each from which day on it holds.
    """
    found: list[LightPart] = []
    for k, (from_day, standing) in enumerate(plans):
        to_day = plans[k + 1][0] if k + 1 < len(plans) else until_day + 1
        for part in standing.parts:
            first = days_before(standing, part)
            if first < to_day and first + part.days > from_day and first <= until_day:
                found.append(LightPart(max(first, from_day) if k else first, standing, part))
    return found


def part_on(parts: Sequence[LightPart], day: int) -> LightPart:
    """Return the part a day of the run is in; the last one goes on."""
    return parts[max(bisect_right([part.first_day for part in parts], day) - 1, 0)]


@dataclass
class State:
    """What is known of the lamp so far; ``set_day`` is when its height or dial was set last."""

    lamp_cm: float | None = None
    dial_pct: float | None = None
    windows: Windows | None = None
    set_day: int = 0

    def stood(self, at_min: float, light: int) -> Stood | None:
        """Return it as a setting, once all of it is known."""
        if self.lamp_cm is None or self.dial_pct is None or self.windows is None:
            return None
        return Stood(at_min, self.lamp_cm, self.dial_pct, self.windows, light)


@dataclass(frozen=True)
class Lived:
    """A run's lamp and tops from its first day on.

    ``changed`` are the days on which height, dial or hours were set otherwise than before, but for
    the first time.
    """

    tops: Tops | None
    rising: Callable[[Array], Array]
    stood: list[Stood]
    state: State
    changed: list[int] = field(default_factory=list)


def changes_of(entries: Sequence[Entry], settings: Sequence[Setting]) -> list[Change]:
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


def _windows(values: dict[str, Any], before: Windows | None, usual_on: float) -> Windows | None:
    """Return the hours a change leaves, from when they were on before; no hours are hours too."""
    if values.get("windows"):
        return tuple((float(w["on_minute"]), float(w["hours"]) * 60) for w in values["windows"])
    if "hours" not in values and not (before and "on_minute" in values):
        return before
    on, minutes = before[0] if before else (usual_on, 0.0)
    if "hours" in values:
        minutes = float(values["hours"]) * 60
    return ((float(values.get("on_minute", on)), minutes),)


def cut_of(run: Run, entry: Entry) -> Cut:
    """Return a power cut; without a moment of its own it ended when it was written down."""
    minutes = float(entry.values["minutes"])
    written = day_of(run, entry.at) * DAY_MIN
    begins = entry.values.get("from_minute")
    if begins is None:
        return Cut(written - minutes, minutes)
    at = written // DAY_MIN * DAY_MIN + float(begins)
    # what begins later in the day than it was written was of the evening before
    return Cut(at - DAY_MIN if at > written else at, minutes)


def tops_in_log(run: Run, entries: Sequence[Entry]) -> Tops | None:
    """Return the curve through the tops that were measured, where any were."""
    measured = [entry for entry in entries if entry.kind == "tops"][-MOST_POINTS:]
    if not measured:
        return None
    days = [day_of(run, entry.at) for entry in measured]
    return fit_tops(days, [entry.values["tops_cm"] for entry in measured], rise_of(run))


def planned_tops(parts: Sequence[LightPart]) -> Callable[[Array], Array]:
    """Return the tops above the floor by days, as the plan has them rise."""
    days, tall = [], []
    for each in parts:
        pot = each.standing.space.pot_cm
        days += [each.first_day, each.first_day + each.part.days]
        tall += [pot + each.part.plant_start_cm, pot + each.part.plant_end_cm]
    return lambda at: np.interp(np.asarray(at, dtype=float), days, tall)


def lived_of(
    run: Run,
    parts: Sequence[LightPart],
    entries: Sequence[Entry],
    settings: Sequence[Setting],
) -> Lived:
    """Return how lamp and tops stood, from what was kept; oldest first.

    Tops that were never measured rise as planned.
    """
    tops = tops_in_log(run, entries)
    rising = planned_tops(parts) if tops is None else _likely(tops)
    firsts = [part.first_day for part in parts]
    events: list[tuple[float, dict[str, Any] | None]] = [
        (day_of(run, at), values) for at, values in changes_of(entries, settings)
    ]
    # where another light begins the lamp stands on by that
    events += [(float(day), None) for day in firsts[1:]]
    events.sort(key=lambda event: event[0])
    above: Array = rising(np.array([max(at, 0.0) for at, _ in events])) if events else np.zeros(0)
    stood, state, changed = [], State(), []
    for (at, values), here in zip(events, above):
        if values is not None:
            known = state.stood(0.0, 0)
            if "height_cm" in values:
                state.lamp_cm = float(here) + float(values["height_cm"])
            if "dial_pct" in values:
                state.dial_pct = float(values["dial_pct"])
            state.windows = _windows(values, state.windows, float(run.on_minute))
            if {"height_cm", "dial_pct"} & values.keys():
                state.set_day = max(int(at), 0)
            now = state.stood(0.0, 0)
            if known is not None and now is not None and _differs(known, now):
                changed.append(int(at))
        light = max(bisect_right(firsts, at) - 1, 0)
        found = state.stood(max(at, 0.0) * DAY_MIN, light)
        if found is not None:
            stood.append(found)
    return Lived(tops, rising, stood, state, changed)


NOTHING_CM, NOTHING_PCT = 1.0, 0.5
"""A setting said again, the tops between measured anew, is no change below this."""


def _differs(before: Stood, now: Stood) -> bool:
    return (
        abs(before.lamp_cm - now.lamp_cm) > NOTHING_CM
        or abs(before.dial_pct - now.dial_pct) > NOTHING_PCT
        or before.windows != now.windows
    )


def _likely(tops: Tops) -> Callable[[Array], Array]:
    return lambda at: np.asarray(tops.at(at)[1])
