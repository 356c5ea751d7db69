"""A dial's curve from watts, light or both."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.fixture.dimming import Dimmer
from canopy.measure.dialcurve import DialReading, dial_curve

MEASURED = (
    # dial, watts and light as shares of full. Common practice, no source
    (50, 0.36, 0.39),
    (60, 0.49, 0.52),
    (50, 0.36, 0.41),
    (75, 0.68, 0.74),
    (50, 0.45, 0.52),
)


def light_at(curve, position):
    return next(p for p in curve.points if p.row.position_pct == position)


@pytest.mark.parametrize(("dial", "watts", "light"), MEASURED)
def test_watts_alone_give_the_light_people_measured_inside_its_range(dial, watts, light):
    curve = dial_curve([DialReading(dial, 300 * watts), DialReading(100, 300)])
    point = light_at(curve, dial)
    assert point.light_low <= light <= point.light_high
    assert point.row.light_fraction > point.row.watts_fraction
    assert (curve.by_light, curve.by_watts) == (False, True)


def test_light_is_averaged_over_spots_and_leads_where_it_was_read():
    # the fall is the same at centre and corners: common practice, no source
    rows = [
        DialReading(100, 300, (1000, 400, 390)),
        DialReading(50, 108, (392, 155, 153)),
        DialReading(25, 45),
    ]
    curve = dial_curve(rows)
    half = light_at(curve, 50)
    mean = np.exp(np.mean(np.log([392 / 1000, 155 / 400, 153 / 390])))
    assert half.row.light_fraction == pytest.approx(mean, rel=0.01)
    assert half.row.watts_fraction == pytest.approx(0.36)
    one = dial_curve([DialReading(100, None, (1000,)), DialReading(50, None, (392,))])
    assert half.light_high - half.light_low < (
        light_at(one, 50).light_high - light_at(one, 50).light_low
    )
    quarter = light_at(curve, 25)
    # where no light was read the range is wider
    wide = [(p.light_high - p.light_low) / p.row.light_fraction for p in (half, quarter)]
    assert wide[1] > 2 * wide[0]


@given(
    st.lists(st.floats(0.05, 0.98), min_size=1, max_size=8, unique=True),
    st.integers(0, 2**32 - 1),
)
@settings(max_examples=40, deadline=None)
def test_the_curve_rises_whatever_was_read_and_is_a_dials_table(shares, seed):
    rng = np.random.default_rng(seed)
    rows = [DialReading(100, 250.0, (800.0, 300.0))]
    for i, share in enumerate(sorted(shares)):
        noise = np.exp(rng.normal(0, 0.05, 3))
        rows.append(
            DialReading(
                5 + i * 10, 250 * share * noise[0], (800 * share * noise[1], 300 * share * noise[2])
            )
        )
    curve = dial_curve(rows)
    light = [p.row.light_fraction for p in curve.points]
    assert light == sorted(light)
    assert light[-1] == 1
    assert all(p.light_low <= p.row.light_fraction <= p.light_high + 1e-9 for p in curve.points)
    # what comes out passes the reader of dials
    Dimmer("continuous", curve.rows())


def test_its_ranges_hold_nine_in_ten():
    rng = np.random.default_rng(4)
    held = 0
    for _ in range(300):
        share, exponent = rng.uniform(0.2, 0.9), rng.normal(0.88, 0.05)
        hand = np.exp(rng.normal(0, 0.015, (2, 2)))
        watts = share * np.exp(rng.normal(0, 0.01))
        light = share**exponent
        rows = [
            DialReading(100, 300, (900 * hand[0, 0], 500 * hand[0, 1])),
            DialReading(50, 300 * watts, (900 * light * hand[1, 0], 500 * light * hand[1, 1])),
        ]
        point = light_at(dial_curve(rows), 50)
        held += point.light_low <= light <= point.light_high
    assert 0.85 < held / 300 < 0.96


def test_more_light_turned_down_is_pointed_at():
    rows = [DialReading(100, None, (1000,)), DialReading(50, None, (400,))]
    (note,) = dial_curve([*rows, DialReading(40, None, (520,))]).notes
    assert (note.code, note.figures["low"], note.figures["high"]) == ("dial.out_of_order", 40, 50)
    (note,) = dial_curve([DialReading(100, 300, (1000,)), DialReading(50, 60, (600,))]).notes
    assert note.code == "dial.apart"
    assert dial_curve(rows).notes == ()


@pytest.mark.parametrize(
    "rows",
    [
        [DialReading(100, 300)],
        [DialReading(100, 300), DialReading(100, 200)],
        [DialReading(100), DialReading(50, 100)],
        [DialReading(100, 300), DialReading(50, None, (400,))],
        [DialReading(100, 300), DialReading(50, -1)],
        [DialReading(100, 300), DialReading(50, float("nan"))],
        [DialReading(100, 300, (1,) * 26), DialReading(50, 100)],
    ],
)
def test_readings_no_curve_comes_of(rows):
    with pytest.raises(CanopyError) as refused:
        dial_curve(rows)
    assert refused.value.field == "readings"
