"""The ledger against one-minute numerical integration, and worked figures of the trade."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given as drawn
from hypothesis import settings
from hypothesis import strategies as st
from scipy import integrate

from canopy.errors import CanopyError
from canopy.ledger.given import DAY_MIN, Cut, Stood, full_min, given


def ppfd(height, dial):
    """A lamp whose light falls evenly in the logarithm of the height."""
    return 900 * dial / 100 * (40 / np.maximum(height, 5)) ** 0.6


def rising(days):
    return 20 + 0.8 * np.asarray(days)


def flat(days):
    return np.zeros(np.shape(days))


def by_minutes(days, stood, cuts, ramp, step=1.0):
    """The same by scipy's trapezium, minute by minute, with the tops of each day's noon."""
    at = np.arange(0, days * DAY_MIN, step) + step / 2
    share = np.zeros(len(at))
    light = np.zeros(len(at))
    for k, each in enumerate(stood):
        until = stood[k + 1].from_min if k + 1 < len(stood) else np.inf
        holds = (at >= each.from_min) & (at < until)
        level = np.zeros(len(at))
        for on, minutes in each.windows:
            into = (at - on) % DAY_MIN
            inside = into < minutes
            edge = np.minimum(into, minutes - into) / ramp if ramp else np.ones(len(at))
            # a window that began before the first midnight counts too
            level = np.where(inside, np.minimum(edge, 1.0), level)
        share = np.where(holds, level, share)
        tops = rising(at // DAY_MIN + 0.5)
        light = np.where(holds, ppfd(each.lamp_cm - tops, np.full(len(at), each.dial_pct)), light)
    for cut in cuts:
        share[(at >= cut.from_min) & (at < cut.from_min + cut.minutes)] = 0
    rate = (light * share * 60e-6).reshape(days, -1)
    return (
        integrate.trapezoid(rate, dx=step, axis=1) + rate[:, -1] * step / 2 + rate[:, 0] * step / 2
    )


minute = st.integers(0, 1439).map(float)


@drawn(
    st.lists(
        st.tuples(
            st.integers(0, 9 * 1440),
            st.floats(60, 120),
            st.floats(20, 100),
            minute,
            st.integers(30, 1200),
        ),
        min_size=1,
        max_size=5,
    ),
    st.lists(st.tuples(st.integers(0, 10 * 1440), st.integers(1, 600)), max_size=4),
    st.sampled_from([0.0, 15.0, 60.0]),
)
@settings(max_examples=50, deadline=None)
def test_it_is_the_integral_minute_by_minute(changes, cuts, ramp):
    stood = [
        Stood(float(at), lamp, dial, ((on, float(minutes)),))
        for at, lamp, dial, on, minutes in sorted(changes)
    ]
    dark = [Cut(float(at), float(minutes)) for at, minutes in cuts]
    found = given(10, stood, dark, ramp, [ppfd], rising)
    assert found.dli == pytest.approx(by_minutes(10, stood, dark, ramp), rel=2e-3, abs=2e-3)


def test_worked_figures_of_the_trade():
    # 263 umol and 13 h are 12.31 mol; 250 umol and 14 h are 12.6. Common practice, no source
    for light, hours, dli in ((263, 13, 12.31), (250, 14, 12.6)):
        stood = [Stood(0, 50, 100, ((360, hours * 60.0),))]
        found = given(3, stood, [], 0, [lambda h, d, e=light: np.full(len(h), float(e))], flat)
        assert found.dli == pytest.approx([dli] * 3, abs=0.005)
    # ramps of r minutes cost r minutes of full light in all (exact)
    ramped = given(1, [Stood(0, 50, 100, ((360, 720.0),))], [], 30, [ppfd], flat)
    assert ramped.lit_h[0] == pytest.approx(11.5)


def test_a_window_over_midnight_is_parted_between_its_days():
    stood = [Stood(0, 50, 100, ((1200, 720.0),))]
    found = given(3, stood, [], 0, [ppfd], flat)
    # what was lit when the run began belongs to its first day too
    assert found.lit_h == pytest.approx([12, 12, 12])


def test_a_cut_takes_its_time_once_however_often_it_is_told():
    stood = [Stood(0, 50, 100, ((360, 720.0),))]
    cuts = [Cut(600, 60), Cut(630, 60), Cut(600, 60)]
    assert given(1, stood, cuts, 0, [ppfd], flat).lit_h[0] == pytest.approx(12 - 1.5)
    # at night it takes nothing
    assert given(1, stood, [Cut(1200, 120)], 0, [ppfd], flat).lit_h[0] == pytest.approx(12)


def test_plants_that_grow_towards_the_lamp_get_more():
    found = given(30, [Stood(0, 80, 60, ((360, 720.0),))], [], 0, [ppfd], rising)
    assert np.all(np.diff(found.dli) > 0)


def test_before_the_first_setting_nothing_is_known():
    found = given(5, [Stood(2.5 * DAY_MIN, 80, 60, ((0, 1440.0),))], [], 0, [ppfd], flat, 1.5)
    assert found.known.tolist() == [False, False, False, True, True]
    assert found.dli[:2] == pytest.approx([1.5, 1.5])
    assert found.mean_of_last(2, 7) is None
    assert found.mean_of_last(4, 7) == pytest.approx(found.dli[3:].mean())
    assert not given(3, [], [], 0, [ppfd], flat).known.any()


@drawn(st.floats(1, 1440), st.floats(0, 200), st.floats(0, 1))
def test_full_light_is_the_integral_of_the_ramps(minutes, ramp, share):
    until = minutes * share

    def level(t):
        return min(t, minutes - t, ramp) / ramp if ramp else 1.0

    corners = sorted({min(max(t, 0), until) for t in (ramp, minutes / 2, minutes - ramp)})
    exact, _ = integrate.quad(level, 0, until, points=corners or None, limit=200)
    assert full_min(until, minutes, ramp) == pytest.approx(exact, rel=1e-6, abs=1e-6)


def test_what_cannot_be_is_refused():
    late, early = Stood(100, 50, 60, ()), Stood(50, 50, 60, ())
    with pytest.raises(CanopyError, match="order of their time"):
        given(3, [late, early], [], 0, [ppfd], flat)
    with pytest.raises(CanopyError, match="at most"):
        given(5000, [], [], 0, [ppfd], flat)


@drawn(
    st.lists(st.tuples(st.integers(0, 1380), st.integers(1, 300)), max_size=2),
    st.integers(0, 1439).map(float),
    st.integers(30, 1200),
    st.sampled_from([0.0, 30.0]),
)
@settings(max_examples=30, deadline=None)
def test_a_controller_that_minds_the_heat_takes_its_minutes_every_day(hot, on, minutes, ramp):
    warm = np.zeros(1440, bool)
    for first, count in hot:
        warm[first : first + count] = True
    stood = [Stood(0.0, 80, 70, ((on, float(minutes)),))]
    found = given(5, stood, [], ramp, [ppfd], rising, warm=warm)
    # the same hours as power cuts on every day
    cuts = [
        Cut(day * DAY_MIN + float(first), float(min(count, 1440 - first)))
        for day in range(6)
        for first, count in hot
    ]
    assert found.dli == pytest.approx(by_minutes(5, stood, cuts, ramp), rel=2e-3, abs=2e-3)


def test_each_setting_has_the_light_of_its_own_stage_or_plan():
    lights = [lambda h, d: np.full(len(h), 100.0), lambda h, d: np.full(len(h), 300.0)]
    all_day = ((0.0, 1440.0),)
    stood = [Stood(0, 50, 60, all_day), Stood(2 * DAY_MIN, 50, 60, all_day, light=1)]
    found = given(4, stood, [], 0, lights, flat)
    # PPFD x hours x 0.0036 (exact)
    assert found.dli == pytest.approx([100 * 24 * 0.0036] * 2 + [300 * 24 * 0.0036] * 2)
    assert found.stood.tolist() == [0, 0, 1, 1]
    # light that no setting has is not asked for
    broken = [*lights, lambda h, d: pytest.fail("asked for")]
    assert given(4, stood, [], 0, broken, flat).dli == pytest.approx(found.dli)


def test_a_lamp_that_fades_gives_less_by_the_hours_it_was_on():
    stood = [Stood(0, 50, 60, ((360, 600.0),))]
    even = given(50, stood, [], 0, [ppfd], flat)
    # exponential maintenance, from memory of IES TM-21: half is left after 250 h
    fading = given(50, stood, [], 0, [ppfd], flat, left=lambda hours: 0.5 ** (hours / 250))
    assert fading.dli / even.dli == pytest.approx(0.5 ** (np.arange(50) * 10 / 250))


def test_what_comes_besides_is_told_day_by_day():
    besides = np.array([1.0, 2.0, 0.5])
    assert given(3, [], [], 0, [], flat, besides).dli == pytest.approx(besides)


@drawn(
    st.lists(
        st.tuples(st.integers(0, 4 * 1440), minute, st.integers(30, 1440)), min_size=1, max_size=4
    ),
    st.lists(st.tuples(st.integers(0, 5 * 1440), st.integers(1, 600)), max_size=3),
)
@settings(max_examples=40, deadline=None)
def test_the_minutes_it_was_on_are_as_many_as_were_lit(changes, cuts):
    stood = [Stood(float(at), 80, 60, ((on, float(n)),)) for at, on, n in sorted(changes)]
    dark = [Cut(float(at), float(n)) for at, n in cuts]
    found = given(5, stood, dark, 0, [ppfd], flat)
    for day, spans in enumerate(found.spans):
        assert all(0 <= a < b <= DAY_MIN for a, b in spans)
        assert all(before[1] < after[0] for before, after in pairwise(spans))
        # without ramps full light is all there is
        assert sum(b - a for a, b in spans) / 60 == pytest.approx(found.lit_h[day])
    # none of them in the dark
    for cut in dark:
        for day, spans in enumerate(found.spans):
            for a, b in spans:
                first, last = day * DAY_MIN + a, day * DAY_MIN + b
                assert last <= cut.from_min + 1e-6 or first >= cut.from_min + cut.minutes - 1e-6
