"""The light that was really given: each day's DLI from how the lamp stood.

Time runs in minutes since the midnight before the run's first day, by a clock that never changes;
days are of 1440 minutes. PPFD in umol m-2 s-1, DLI in mol m-2 d-1, lengths in cm.
"""

from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import ArrayLike, NDArray

from canopy.constants import MOL_PER_UMOL
from canopy.errors import CanopyError

Array = NDArray[np.float64]

DAY_MIN = 1440.0
MINUTE_S = 60.0
MOST_DAYS = 1000
MOST_STOOD = 50_000


@dataclass(frozen=True)
class Stood:
    """How the lamp stood from a moment on.

    Parameters
    ----------
    from_min : float
    lamp_cm : float
        Above the floor: plants grow towards it.
    dial_pct : float
    windows : tuple of (on_minute, minutes)
        Of each day, on from so many minutes after midnight; they may end on the next.
    light : int
        Which of the lights it is by: a stage's, or another plan's.
    """

    from_min: float
    lamp_cm: float
    dial_pct: float
    windows: tuple[tuple[float, float], ...]
    light: int = 0


@dataclass(frozen=True)
class Cut:
    """A time without power."""

    from_min: float
    minutes: float


@dataclass(frozen=True)
class Given:
    """Each day's light, shape (days,).

    ``lit_h`` are hours of full light, ramps and cuts taken off; ``known`` tells on which days all
    of it is known: before the lamp's first setting nothing is. ``spans`` are from and until which
    minutes of each day the lamp was on, ``stood`` the number of the setting each day ended with, -1
    for none; ``full`` tells of a day and a setting how many minutes of full light there were.
    """

    dli: Array
    lit_h: Array
    known: NDArray[np.bool_]
    spans: tuple[tuple[tuple[float, float], ...], ...]
    stood: NDArray[np.int64]
    full: tuple[tuple[int, int, float], ...] = ()

    def mean_of_last(self, day: int, count: int) -> float | None:
        """Return the mean DLI of the last known days up to one, at most so many; None of none."""
        days = [d for d in range(max(day - count + 1, 0), day + 1) if self.known[d]]
        return float(self.dli[days].mean()) if days else None


def full_min(until: float, minutes: float, ramp_min: float) -> float:
    """Return the minutes of full light from a window's beginning until a minute of it.

    The lamp rises evenly over the ramp and falls over the last of it; a window shorter than both
    never gets to full: the integral of min(t, L - t, r)/r.
    """
    at = min(max(until, 0.0), minutes)
    if ramp_min <= 0:
        return at
    edge = min(ramp_min, minutes / 2)
    if at <= edge:
        return at * at / (2 * ramp_min)
    rising, level = edge * edge / (2 * ramp_min), edge / ramp_min
    if at <= minutes - edge:
        return rising + level * (at - edge)
    left = minutes - at
    return 2 * rising + level * (minutes - 2 * edge) - left * left / (2 * ramp_min)


def _joined(cuts: Sequence[Cut]) -> list[tuple[float, float]]:
    """Return the times without power, those that overlap as one, in order."""
    found: list[tuple[float, float]] = []
    for begins, ends in sorted((cut.from_min, cut.from_min + cut.minutes) for cut in cuts):
        if found and begins <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], ends))
        else:
            found.append((begins, ends))
    return found


Light = Callable[[Array, Array], Array]
"""The mean at full light by the lamp's height above the tops and the dial, all of shape (n,)."""


def given(
    days: int,
    stood: Sequence[Stood],
    cuts: Sequence[Cut],
    ramp_min: float,
    lights: Sequence[Light],
    tops_cm: Callable[[Array], Array],
    daylight_dli: ArrayLike = 0.0,
    warm: NDArray[np.bool_] | None = None,
    left: Callable[[Array], Array] | None = None,
) -> Given:
    """Return the light of each of so many days.

    Parameters
    ----------
    days : int
    stood : sequence of Stood
        In order of time; each holds until the next.
    cuts : sequence of Cut
    ramp_min : float
        Sunrise and sunset, each.
    lights : sequence of callable
        See :data:`Light`; each setting says which.
    tops_cm : callable
        The tops above the floor by days since the first midnight, shape (n,); taken at noon.
    daylight_dli : float or array, shape (days,)
        What comes besides, each day.
    warm : array of bool, shape (1440,), optional
        In which minutes of every day a controller keeps the lamp off for the heat.
    left : callable, optional
        What is left of the first day's light by the hours of full light since, shape (n,).

    Raises
    ------
    CanopyError
        When there are too many days or settings, or these are out of order.
    """
    if not 0 <= days <= MOST_DAYS or len(stood) > MOST_STOOD:
        raise CanopyError(f"A run has at most {MOST_DAYS} days and {MOST_STOOD} settings.", "days")
    times = [each.from_min for each in stood]
    if any(after < before for before, after in pairwise(times)):
        raise CanopyError("Settings stand in the order of their time.", "stood")
    dark = _joined([*cuts, *_warm_cuts(days, warm)])
    ends_of_dark = [end for _, end in dark]
    # full minutes by day and setting, then the light of each pair at once
    pairs: list[tuple[int, int, float]] = []
    spans: list[list[tuple[float, float]]] = [[] for _ in range(days)]
    for k, each in enumerate(stood):
        until = times[k + 1] if k + 1 < len(stood) else days * DAY_MIN
        begins, until = max(each.from_min, 0.0), min(until, days * DAY_MIN)
        if until <= begins:
            continue
        for day in range(max(int(begins // DAY_MIN) - 1, -1), int((until - 1e-9) // DAY_MIN) + 1):
            for on, minutes in each.windows:
                first = day * DAY_MIN + on
                for part, share, lit in _by_day(
                    first, minutes, begins, until, ramp_min, dark, ends_of_dark
                ):
                    if 0 <= part < days:
                        pairs.append((part, k, share))
                        spans[part] += lit
    dli = np.zeros(days) + np.asarray(daylight_dli, dtype=float)
    lit_h = np.zeros(days)
    if pairs:
        day_of = np.array([pair[0] for pair in pairs])
        which = np.array([pair[1] for pair in pairs])
        full = np.array([pair[2] for pair in pairs])
        np.add.at(lit_h, day_of, full / 60)
        lamp = np.array([each.lamp_cm for each in stood])[which]
        dial = np.array([each.dial_pct for each in stood])[which]
        by = np.array([each.light for each in stood])[which]
        above, light = lamp - tops_cm(day_of + 0.5), np.zeros(len(pairs))
        for number in np.unique(by):
            mine = by == number
            light[mine] = lights[number](above[mine], dial[mine])
        if left is not None:
            light *= left(np.cumsum(lit_h) - lit_h)[day_of]
        np.add.at(dli, day_of, light * full * MINUTE_S * MOL_PER_UMOL)
    first = times[0] if times else np.inf
    ends = np.searchsorted(times, (np.arange(days) + 1) * DAY_MIN, side="left") - 1
    return Given(
        dli=dli,
        lit_h=lit_h,
        known=np.arange(days) * DAY_MIN >= first,
        spans=tuple(_touching(lit) for lit in spans),
        stood=ends.astype(np.int64),
        full=tuple(pairs),
    )


def _warm_cuts(days: int, warm: NDArray[np.bool_] | None) -> list[Cut]:
    """Return the hours the heat takes of every day as times without power."""
    if warm is None or not warm.any():
        return []
    edges = np.flatnonzero(np.diff(np.concatenate([[0], warm.astype(int), [0]])))
    return [
        Cut(day * DAY_MIN + float(on), float(off - on))
        for day in range(-1, days + 1)
        for on, off in zip(edges[::2], edges[1::2])
    ]


def _touching(lit: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
    """Return spans in order, those that touch as one."""
    found: list[tuple[float, float]] = []
    for on, off in sorted(lit):
        if found and on <= found[-1][1] + 1e-6:
            found[-1] = (found[-1][0], max(found[-1][1], off))
        else:
            found.append((on, off))
    return tuple(found)


Spans = list[tuple[float, float]]


def _by_day(
    first: float,
    minutes: float,
    begins: float,
    until: float,
    ramp_min: float,
    dark: list[tuple[float, float]],
    ends_of_dark: list[float],
) -> list[tuple[int, float, Spans]]:
    """Return a window's minutes of full light while a setting holds, and when it is lit, by day."""
    found = []
    start, end = max(first, begins), min(first + minutes, until)
    while start < end:
        day = int(start // DAY_MIN)
        stop = min(end, (day + 1) * DAY_MIN)

        def between(a: float, b: float) -> float:
            low, high = (full_min(at - first, minutes, ramp_min) for at in (a, b))
            return high - low

        share, on, lit = between(start, stop), start, []
        k = bisect_right(ends_of_dark, start)
        while k < len(dark) and dark[k][0] < stop:
            share -= between(max(dark[k][0], start), min(dark[k][1], stop))
            if dark[k][0] > on:
                lit.append((on, dark[k][0]))
            on = dark[k][1]
            k += 1
        if on < stop:
            lit.append((on, stop))
        midnight = day * DAY_MIN
        found.append((day, max(share, 0.0), [(a - midnight, b - midnight) for a, b in lit]))
        start = stop
    return found
