"""The inner loops of the search for the fewest trips, compiled; see :mod:`canopy.plan.trips`.

Compiled code is kept on disk beside this module. Days, places and settings are indices; a hang at
place p stands in row p - rise[day] of the tables ``good`` and ``cost``, both (rows, settings).
``group`` says which settings share their hours.
"""

from typing import Any

import numpy as np
from numba import njit

TRIP = 1e6
"""What a trip counts: more than all days of a run together."""

SMALL_MOVE = 2.0
"""What a move shorter than the least counts where a stage begins, when somebody is there anyway."""

BINS_A_RISE = 4
"""Steps of the day's light, on a log scale, in which easing is reckoned."""

MOST_EASING = 60


@njit(cache=True, nogil=True)
def backward(
    good: Any, cost: Any, rise: Any, group: Any, groups: int, places: int, move: int, gap: int,
    exits: Any, rehang_cost: float,
) -> Any:  # fmt: skip
    """Return the least from the first day on (places, settings), and from a trip on any other.

    The latter by day, place the lamp comes from, and hours (days, places, groups).
    """
    days, rows, count = len(rise), good.shape[0], good.shape[1]
    inf = np.inf
    later = np.full((days, places, groups), inf)
    within = np.full((places, count), inf)  # until another trip of this stage
    out = exits.copy()  # until the stage ends
    run = np.zeros((places, count), np.int32)
    total = np.zeros((places, count))
    sums = np.zeros((gap + 1, places, count))
    best = np.full((places, groups), inf)
    value = np.full((places, count), inf)
    for s in range(days - 1, -1, -1):
        best[:] = inf
        here, then, last = s % (gap + 1), (s + gap) % (gap + 1), s == 0 or days - s >= gap
        for p in range(places):
            row = p - rise[s]
            inside = 0 <= row < rows
            for c in range(count):
                if not inside or not good[row, c]:
                    if run[p, c] or s == days - 1:
                        within[p, c] = inf
                        out[p, c] = inf
                        run[p, c] = 0
                        total[p, c] = 0.0
                    continue
                within[p, c] += cost[row, c]
                out[p, c] += cost[row, c]
                run[p, c] += 1
                total[p, c] += cost[row, c]
                if run[p, c] >= gap and s + gap < days:
                    spent = total[p, c]
                    if run[p, c] > gap:
                        spent -= sums[then, p, c]
                    new = spent + later[s + gap, p, group[c]]
                    if new < within[p, c]:
                        within[p, c] = new
                sums[here, p, c] = total[p, c]
                least = within[p, c]
                if last and out[p, c] < least:
                    least = out[p, c]
                if s == 0:
                    value[p, c] = least
                if least < best[p, group[c]]:
                    best[p, group[c]] = least
        if s == 0:
            break
        for g in range(groups):
            below = inf  # the least of all places far enough below, then of those above
            for p in range(places):
                if p >= move:
                    below = min(below, best[p - move, g])
                later[s, p, g] = TRIP + min(best[p, g], below + rehang_cost)
            above = inf
            for p in range(places - 1, -1, -1):
                if p + move < places:
                    above = min(above, best[p + move, g])
                later[s, p, g] = min(later[s, p, g], TRIP + above + rehang_cost)
    return value, later


@njit(cache=True, nogil=True)
def next_trip(
    good: Any, cost: Any, rise: Any, group: Any, later: Any, exits: Any, gap: int,
    s: int, p: int, c: int,
) -> Any:  # fmt: skip
    """Return until which day a hang that begins on day s stays, and what it costs from there."""
    days, rows = len(rise), good.shape[0]
    spent, least, until = 0.0, np.inf, -1
    for e in range(s + 1, days + 1):
        row = p - rise[e - 1]
        if row < 0 or row >= rows or not good[row, c]:
            break
        spent += cost[row, c]
        if e < days:
            if e - s < gap:
                continue
            new = spent + later[e, p, group[c]]
        else:
            if s and days - s < gap:
                continue
            new = spent + exits[p, c]
        if new < least:
            least, until = new, e
    return until, least


@njit(cache=True, nogil=True)
def hang_again(
    good: Any, cost: Any, rise: Any, group: Any, later: Any, exits: Any, places: int, move: int,
    gap: int, rehang_cost: float, s: int, at: int, hours: int,
) -> Any:  # fmt: skip
    """Return the best place and setting of a trip on day s, from a place, the hours as they are."""
    least, place, setting = np.inf, -1, -1
    for p in range(places):
        if p != at and abs(p - at) < move:
            continue
        extra = 0.0 if p == at else rehang_cost
        for c in range(good.shape[1]):
            if group[c] != hours:
                continue
            value = next_trip(good, cost, rise, group, later, exits, gap, s, p, c)[1] + extra
            if value < least:
                least, place, setting = value, p, c
    return place, setting


@njit(cache=True, nogil=True)
def exits_into(
    dli: Any, same: Any, shift: int, places: int, first: Any, next_dli: Any, move: int,
    width: float, rise: float,
) -> Any:  # fmt: skip
    """Return what it costs to go on into the next stage from every place and setting of this one.

    ``dli`` (places, settings) is the last day's, ``next_dli`` the next stage's first. ``same`` says
    which of its settings is the same as one of this stage, ``shift`` how many places lower its
    place 0 is. ``width`` is that of a bin of ln DLI.
    """
    there, count = first.shape
    low, high = np.inf, -np.inf
    for p in range(there):
        for c in range(count):
            if np.isfinite(first[p, c]) and next_dli[p, c] > 0:
                value = np.log(next_dli[p, c])
                low, high = min(low, value), max(high, value)
    result = np.full(dli.shape, np.inf)
    bins = 1 if high < low else int((high - low) / width) + 2
    best = np.full((there, bins), np.inf)
    for p in range(there):
        for c in range(count):
            if np.isfinite(first[p, c]):
                b = 0
                if next_dli[p, c] > 0:
                    b = int(np.ceil((np.log(next_dli[p, c]) - low) / width - 1e-9))
                best[p, b] = min(best[p, b], first[p, c])
        for b in range(1, bins):
            best[p, b] = min(best[p, b], best[p, b - 1])
    moved = np.full(bins, np.inf)
    for p in range(places):
        at = p + shift
        moved[:] = np.inf
        for q in range(there):
            away = abs(q - at)
            extra = SMALL_MOVE if 0 < away < move else 0.0
            for b in range(bins):
                moved[b] = min(moved[b], best[q, b] + extra)
        for c in range(dli.shape[1]):
            value = np.inf
            if dli[p, c] <= 0:
                value = TRIP + moved[bins - 1]
            else:
                for n in range(MOST_EASING + 1):
                    reach = (np.log(dli[p, c]) - low) / width + BINS_A_RISE * (n + 1)
                    if reach < 0:
                        continue
                    b = min(int(reach + 1e-9), bins - 1)
                    value = min(value, TRIP * (1 + n) + moved[b])
                    if b == bins - 1:
                        break
            k = same[c]
            gentle = k >= 0 and 0 <= at < there
            if gentle and dli[p, c] > 0:
                gentle = next_dli[at, k] <= dli[p, c] * (1 + rise) * (1 + 1e-9)
            if gentle:
                value = min(value, first[at, k])
            result[p, c] = value
    return result


def warm_up() -> None:
    """Compile the loops, or load them, so that no first request waits."""
    good, cost = np.ones((3, 2), dtype=bool), np.zeros((3, 2))
    rise, group = np.zeros(2, dtype=np.int64), np.zeros(2, dtype=np.int64)
    exits = np.zeros((3, 2))
    first, later = backward(good, cost, rise, group, 1, 3, 1, 1, exits, 0.0)
    next_trip(good, cost, rise, group, later, exits, 1, 0, 0, 0)
    hang_again(good, cost, rise, group, later, exits, 3, 1, 1, 0.0, 1, 0, 0)
    exits_into(cost + 1, np.zeros(2, dtype=np.int64), 0, 3, first, cost + 1, 1, 0.1, 0.15)
