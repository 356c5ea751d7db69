"""The fewest trips, against trying every way there is."""

from itertools import pairwise, product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canopy.crop.targets import StageTarget
from canopy.plan.tripkernels import MOST_EASING, SMALL_MOVE, TRIP
from canopy.plan.trips import Pace, Paced, StageDays, Strictness, easing_trips, fewest_trips

RISE = 0.15
ANY = Strictness(StageTarget(1, 2, 100, 10, 12), Pace(5.0, 7))


def paced(days):
    """A stage's days with nothing said of what they are made of."""
    nothing = np.arange(len(days.hours))
    return Paced(days, nothing, nothing, np.zeros(days.days, dtype=int), ANY)


@st.composite
def stages(draw, base=0):
    """A small stage: a few days, places and settings, good here and there."""
    days, rows = draw(st.integers(1, 6)), draw(st.integers(1, 4))
    rise = np.cumsum([0, *draw(st.lists(st.integers(0, 1), min_size=days - 1, max_size=days - 1))])
    count = draw(st.integers(1, 3))
    cells = rows * count
    good = np.array(draw(st.lists(st.sampled_from([1, 1, 0]), min_size=cells, max_size=cells)))
    cost = np.array(draw(st.lists(st.integers(0, 9), min_size=cells, max_size=cells)), dtype=float)
    # a quarter of the rise apart, so that bins of easing hold what they are said to
    steps = draw(st.lists(st.integers(0, 24), min_size=cells, max_size=cells))
    places = rows + int(rise[-1])
    return StageDays(
        base=base + draw(st.integers(0, 2)),
        places=places,
        rise=rise.astype(np.int64),
        good=good.reshape(rows, count).astype(bool),
        cost=cost.reshape(rows, count),
        dli=((1 + RISE) ** (np.array(steps) / 4)).reshape(rows, count),
        dial_pct=np.array(draw(st.permutations([20.0, 40.0, 60.0]))[:count]),
        hours=np.array(
            draw(st.lists(st.sampled_from([10.0, 12.0]), min_size=count, max_size=count))
        ),
        least_move=draw(st.integers(1, 2)),
        gap=draw(st.integers(1, 3)),
        rehang_cost=draw(st.sampled_from([0.0, 5.0])),
    )


def ways(stage):
    """Every way through a stage by itself: its hangs, and what it costs without its beginning."""

    def spent(day, until, place, setting):
        rows = place - stage.rise[day:until]
        inside = ((rows >= 0) & (rows < len(stage.good))).all()
        if not inside or not stage.good[rows, setting].all():
            return None
        return float(stage.cost[rows, setting].sum())

    def from_day(day, before):
        for until in range(day + 1, stage.days + 1):
            short = until - day < stage.gap
            if short and not (until == stage.days and day == 0):
                continue
            for place, setting in product(range(stage.places), range(len(stage.hours))):
                extra = 0.0
                if before is not None:
                    if stage.hours[setting] != stage.hours[before[1]]:
                        continue
                    if place != before[0]:
                        if abs(place - before[0]) < stage.least_move:
                            continue
                        extra = stage.rehang_cost
                    extra += TRIP
                here = spent(day, until, place, setting)
                if here is None:
                    continue
                if until == stage.days:
                    yield [(day, place, setting)], here + extra
                else:
                    for hangs, more in from_day(until, (place, setting)):
                        yield [(day, place, setting), *hangs], here + extra + more

    yield from from_day(0, None)


def beginning(stage, first, before):
    """What it costs to begin with a hang, after the one a stage before ended with."""
    _, place, setting = first
    if before is None:
        return TRIP
    last, (_, was, old) = before
    away = place + stage.base - was - last.base
    then, now = last.dli[was - last.rise[-1], old], stage.dli[place - stage.rise[0], setting]
    eased = int(easing_trips(then, now, RISE))
    same = stage.dial_pct[setting] == last.dial_pct[old] and stage.hours[setting] == last.hours[old]
    if away == 0 and same and not eased:
        return 0.0
    return TRIP * (1 + eased) + (SMALL_MOVE if 0 < abs(away) < stage.least_move else 0.0)


@settings(max_examples=120, deadline=None)
@given(stages(), stages(base=1))
def test_no_way_is_better_than_the_one_found(first, second):
    least = np.inf
    for hangs, cost in ways(first):
        for then, more in ways(second):
            begun = beginning(first, hangs[0], None)
            begun += beginning(second, then[0], (first, hangs[-1]))
            least = min(least, begun + cost + more)
    tables = [[paced(first)], [paced(second)]]
    if not np.isfinite(least):
        with pytest.raises(ValueError, match="no way"):
            fewest_trips(tables, RISE)
        return
    found = fewest_trips(tables, RISE)
    chosen = [[(h.day, h.place, h.setting) for h in way.hangs] for way in found]
    # what is found is one of the ways there are, and none is worth more
    costs = [
        next(cost for hangs, cost in ways(stage) if hangs == mine)
        for stage, mine in zip((first, second), chosen)
    ]
    worth = beginning(first, chosen[0][0], None) + sum(costs)
    worth += beginning(second, chosen[1][0], (first, chosen[0][-1]))
    assert worth == pytest.approx(least)


def test_easing_takes_a_trip_a_day_of_rise():
    # 8 to 12 by 15 % a day: 9.2, 10.58, 12.2: two days on the way. By hand
    assert easing_trips(8, 12, 0.15) == 2
    assert easing_trips(8, 8 * 1.15, 0.15) == 0
    assert easing_trips(12, 8, 0.15) == 0
    assert easing_trips(0, 8, 0.15) == 0
    assert easing_trips(4, 8, 1e-300) == MOST_EASING
    assert easing_trips(np.array([4.0, 8.0]), 16, 1.0).tolist() == [1, 0]


def test_what_nothing_gives_is_eased_step_by_step():
    paces = Pace(5.0, 7).eased()
    assert paces[0] == Pace(5.0, 7)
    assert paces[-1] == Pace(0.0, 1)
    assert all(b.lift_cm <= a.lift_cm and b.gap_days <= a.gap_days for a, b in pairwise(paces))
    assert max(pace.gap_days for pace in Pace(5.0, 3).eased()) == 3
