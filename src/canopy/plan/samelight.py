"""The same day's light for less: every way of hours, dial and height that gives a stage its DLI.

Dimmed, a lamp gives more light for each watt: longer hours at a lower dial take less. Heights in
cm, dial in per cent, hours in h, DLI in mol m-2 d-1.
"""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.crop.photoperiod import timer_hours
from canopy.plan.bench import Bench, stage_hours
from canopy.plan.levers import SAME, LeverSpace
from canopy.plan.problem import StageProblem
from canopy.plan.season import apart_cost, cost_in
from canopy.plan.solver import Index, target_masks
from canopy.power.tariff import DAY_MIN, Tariff, starts_sum

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

Hindrance = Literal["", "hours", "dial", "cap", "dli", "ppfd", "evenness"]
"""Why a way will not do: the crop's day, a dial that ends, or a target it misses."""

ORDER: tuple[tuple[str, Hindrance], ...] = (
    ("hot_spot_cap", "cap"),
    ("dli_low", "dli"),
    ("dli_high", "dli"),
    ("ppfd_low", "ppfd"),
    ("ppfd_high", "ppfd"),
    ("evenness", "evenness"),
)


@dataclass(frozen=True)
class WayToLight:
    """One way to give the DLI: the levers, what it takes a day, and what is in its way."""

    height_cm: float
    dial_pct: float
    hours: float
    on_minute: int
    dli: float
    watts: float
    kwh: float
    cost: float
    hindrance: Hindrance


@dataclass(frozen=True)
class SameLight:
    """The ways, one for each of the timer's hours, and the cheapest.

    Parameters
    ----------
    dli : float
        What each gives at least.
    now : WayToLight
        As it is set.
    here, anywhere : tuple of WayToLight
        At its height, and at the best height for each, by rising hours.
    """

    dli: float
    now: WayToLight
    here: tuple[WayToLight, ...]
    anywhere: tuple[WayToLight, ...]

    def cheapest(self, ways: tuple[WayToLight, ...]) -> WayToLight:
        """Return the way that costs least of those nothing stands in the way of, or as it is."""
        able = [way for way in (self.now, *ways) if not way.hindrance]
        return min(able, key=lambda way: (round(way.cost, 6), way.kwh), default=self.now)

    def saved_by_dimming(self, ways: tuple[WayToLight, ...]) -> float:
        """Return the share of the energy that the frugalest way saves over the brightest one."""
        able = [way.kwh for way in ways if not way.hindrance]
        return 1 - min(able) / able[0] if able and able[0] > 0 else 0.0


def same_light(
    problem: StageProblem,
    ready: Bench,
    index: Index,
    tariff: Tariff,
    on_minute: int,
    free_start: bool,
) -> SameLight:
    """Return all ways to give a setting's DLI, and what they cost.

    Parameters
    ----------
    problem, ready : StageProblem, Bench
    index : tuple of int
        The setting.
    tariff : Tariff
        A day's.
    on_minute : int
        When the lamp comes on now.
    free_start : bool
        Whether it may come on at the cheapest time instead.
    """
    hours = timer_hours(problem.timer_step_min / 60, 24.0, problem.timer_step_min)
    may = _may(problem, hours)
    space = replace(ready.space, hours=hours, hours_choices=None)
    masks = target_masks(space, problem.target)
    h, d, _ = index
    given = float(ready.space.dli()[index])
    starts, price = _starts(problem, tariff, hours, on_minute, free_start)
    heights = np.arange(len(space.heights_cm))
    if space.height_choices is not None:
        heights = heights[space.height_choices]
    dials = _dials(space, given, heights)
    kwh, dli = space.kwh()[0], space.dli()
    apart_kwh = 0.0 if space.apart is None else space.apart.kwh_per_day

    def way(at_h: int, at_d: int, t: int, hindrance: Hindrance) -> WayToLight:
        used = float(kwh[at_d, t])
        return WayToLight(
            float(space.heights_cm[at_h]),
            float(space.dials_pct[at_d]),
            float(hours[t]),
            int(starts[t]),
            float(dli[at_h, at_d, t]),
            float(space.watts[at_d]),
            used,
            (used - apart_kwh) * float(price[t]) + apart_cost(problem, tariff),
            hindrance,
        )

    def hindrance(at_h: int, at_d: int, t: int) -> Hindrance:
        if at_d >= len(space.dials_pct):
            return "dial"
        if not may[t]:
            return "hours"
        for name, word in ORDER:
            if name in masks and not np.broadcast_to(masks[name], space.shape)[at_h, at_d, t]:
                return word
        return ""

    def line(rows: NDArray[np.int64]) -> tuple[WayToLight, ...]:
        found = []
        for t in range(len(hours)):
            options = []
            for row in rows:
                at_h, at_d = int(heights[row]), int(dials[row, t])
                why = hindrance(at_h, at_d, t)
                options.append((bool(why), at_d, -at_h, at_h, why))
            _, at_d, _, at_h, why = min(options)
            found.append(way(at_h, min(at_d, len(space.dials_pct) - 1), t, why))
        return tuple(found)

    own = np.flatnonzero(heights == h)
    if not len(own):
        own = np.array([np.abs(heights - h).argmin()])
    t_now = int(np.abs(hours - float(ready.space.hours[index[2]])).argmin())
    return SameLight(
        given, way(h, d, t_now, hindrance(h, d, t_now)), line(own), line(np.arange(len(heights)))
    )


def _may(problem: StageProblem, hours: Array) -> Mask:
    """Return which hours the crop's day and night allow."""
    known, choices = stage_hours(problem)
    allowed = known[choices]
    near: Mask = np.array(
        [np.abs(allowed - each).min() < problem.timer_step_min / 120 for each in hours]
    )
    return near


def _dials(space: LeverSpace, dli: float, heights: NDArray[np.int64]) -> NDArray[np.int64]:
    """Return the lowest dial that gives a DLI, (heights, hours); one too many where none does."""
    per_umol = space.lamp_dli(1.0, space.hours)
    wanted = np.divide(
        (dli - space.other_dli[heights])[:, None],
        per_umol[None, :],
        out=np.full((len(heights), len(per_umol)), np.inf),
        where=per_umol > 0,
    )
    found = np.empty(wanted.shape, dtype=np.int64)
    for row, h in enumerate(heights):
        # a dial's light may fall back where it was measured so: what is above it counts
        most = np.maximum.accumulate(space.timed_mean[h])
        found[row] = np.searchsorted(most, wanted[row] * (1 - SAME))
    return found


def _starts(
    problem: StageProblem, tariff: Tariff, hours: Array, on_minute: int, free: bool
) -> tuple[NDArray[np.int64], Array]:
    """Return when to switch on and a kWh's mean price, for so many hours each.

    Beside daylight the lamp's windows are what the crop's day leaves of it.
    """
    day = replace(problem.losses.day, on_minute=on_minute)
    if day.sun is not None:
        windows = [day.windows(float(each)) for each in hours]
        return (
            np.array([(w[0].on_minute if w else on_minute) for w in windows]),
            np.array([cost_in(tariff, w, 1.0) if w else 0.0 for w in windows]),
        )
    price, now = tariff.by_minute(), on_minute % DAY_MIN
    steps = np.arange(0, DAY_MIN, problem.timer_step_min) if free else np.array([now])
    steps = np.unique(np.append(steps, now))
    off = np.abs((steps - now + DAY_MIN / 2) % DAY_MIN - DAY_MIN / 2)
    starts, mean = np.empty(len(hours), dtype=np.int64), np.empty(len(hours))
    for t, each in enumerate(hours):
        minutes = round(float(each) * 60)
        sums = starts_sum(price, minutes)[steps] / minutes
        at = int(np.lexsort((off, np.round(sums, 9)))[0])
        starts[t], mean[t] = int(steps[at]), sums[at]
    return starts, mean
