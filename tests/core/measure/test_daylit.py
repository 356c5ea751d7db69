"""Daylight taken off: the lamp's own light comes out, and clouds are told and counted."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import interpolate

from canopy.errors import CanopyError
from canopy.measure.daylit import CLOUDS, Background, Lit, lamp_alone

LAMP = [412.0, 250.0, 246.0, 251.0, 240.0, 330.0]


def walk(daylight, unlit=True, zero=0.0, lamp=LAMP):
    """A walk of a reading each half minute, under daylight as a function of the seconds."""
    return [
        Lit(
            20.0 * k,
            10.0,
            30.0 * k,
            own + daylight(30.0 * k) + zero,
            daylight(30.0 * k + 5) + zero if unlit else None,
        )
        for k, own in enumerate(lamp)
    ]


@given(st.floats(0, 800), st.floats(0, 12))
def test_steady_daylight_and_the_sensors_zero_fall_out(sky, zero):
    pairs = lamp_alone(walk(lambda s: sky, zero=zero))
    assert pairs.shown == pytest.approx(LAMP)
    assert (pairs.sd, pairs.moved) == (0, 0)
    looks = [Background(-20, sky + zero), Background(300, sky + zero)]
    once = lamp_alone(walk(lambda s: sky, False, zero), looks)
    assert once.shown == pytest.approx(LAMP)
    assert once.notes == ()


@given(st.lists(st.floats(0, 200), min_size=2, max_size=6))
def test_between_looks_daylight_is_scipys_straight_line(values):
    times = [60.0 * k - 30 for k in range(len(values))]
    looks = [Background(at, value) for at, value in zip(times, values)]
    rows = walk(lambda s: 500.0, False)
    line = interpolate.interp1d(
        times, values, bounds_error=False, fill_value=(values[0], values[-1])
    )
    expected = [row.shown - float(line(row.at_s)) for row in rows]
    # in any order
    assert lamp_alone(rows, looks[::-1]).shown == pytest.approx(expected)


def test_a_dusk_that_falls_evenly_leaves_the_lamp():
    found = lamp_alone(
        walk(lambda s: 120 - 0.2 * s, False), [Background(0, 120), Background(150, 90)]
    )
    assert found.shown == pytest.approx(LAMP)


@given(st.floats(1, 200))
def test_clouds_are_told_where_they_count(change):
    looks = [Background(0, 100), Background(150, 100 + change)]
    found = lamp_alone(walk(lambda s: 100, False), looks)
    share = change / float(np.median(found.shown))
    told = [note.code for note in found.notes]
    assert told == (["daylit.clouds"] if share > CLOUDS else [])
    # what is evenly spread has a standard deviation of a twelfth's root: closed form
    assert found.sd == pytest.approx(share / 12**0.5)


def test_a_spot_that_is_read_again_shows_clouds_without_a_look():
    rows = [Lit(60, 45, 0, 400, 50), Lit(8, 8, 30, 300, 80), Lit(60.4, 45, 60, 380, 90)]
    found = lamp_alone(rows)
    assert [note.code for note in found.notes] == ["daylit.clouds"]
    assert found.notes[0].figures["by"] == 40
    # other places differ by themselves: that is no cloud
    apart = lamp_alone(rows[:2])
    assert [note.code for note in apart.notes] == ["daylit.once"]
    assert apart.sd == 0


@settings(max_examples=60)
@given(st.integers(0, 2**32 - 1), st.floats(20, 150))
def test_nine_in_ten_lie_inside_what_clouds_leave_open(seed, change):
    rng = np.random.default_rng(seed)
    count = 400
    # the daylight of the moment, anywhere between two looks, evenly
    sky = 100 + change * rng.uniform(0, 1, count)
    rows = [Lit(0.1 * k, 0, 75, 400 + sky[k]) for k in range(count)]
    found = lamp_alone(rows, [Background(0, 100), Background(150, 100 + change)])
    inside = np.abs(found.shown - 400) <= 1.6449 * found.sd * 400
    assert inside.mean() > 0.86


def test_what_cannot_be_is_refused_with_what_to_do():
    with pytest.raises(CanopyError, match="Reading 2 has no daylight"):
        lamp_alone([Lit(0, 0, 0, 400, 50), Lit(9, 0, 9, 300)])
    with pytest.raises(CanopyError, match="Reading 1: 60 with the lamp on and 400 with it off"):
        lamp_alone([Lit(0, 0, 0, 60, 400)])
    # a hand's error in full sun is no swap
    assert lamp_alone([Lit(0, 0, 0, 1000, 1010)]).shown.tolist() == [0]
