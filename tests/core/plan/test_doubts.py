"""What an answer is known by: the parts, and how they are put together."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.constants import NINETY
from canopy.crop.targets import StageTarget
from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import height_stack
from canopy.light.lightmap import Grid
from canopy.light.measured import MeasuredMap
from canopy.light.sources import Bars, Board, PlacedLamp
from canopy.light.transport import prepare
from canopy.plan.certainty import certainty
from canopy.plan.doubts import (
    LINING_REFLECTANCE,
    SENSOR,
    Doubts,
    after_reading,
    dial_doubt,
    distinct_spots,
    lamp_doubts,
    lining_doubt,
    mixed,
    relined_rows,
    relined_shares,
    usual_doubts,
)
from canopy.plan.levers import Outcome

BOX = Enclosure(120, 90, 140, (0.8,) * 4, 0.8, 0.15)
HEIGHTS = np.arange(25.0, 90, 5)
NO_LINING = np.zeros((len(HEIGHTS), 4))
FIVE = ((60, 45), (10, 10), (110, 10), (10, 80), (110, 80))


def read(*rows):
    """Readings of 300 umol m-2 s-1 at places and heights."""
    return MeasuredMap(BOX, 60, 45, 0.0, tuple((x, y, h, 300.0) for x, y, h in rows))


def over(spots, *heights):
    return read(*((x, y, h) for h in heights for x, y in spots))


def mean_sd(taken, height, **more):
    parts = lamp_doubts(HEIGHTS, NO_LINING, 0.1, True, taken, True, **more)
    at = list(HEIGHTS).index(height)
    return float(Doubts(parts, np.zeros(1)).at(at, 0).mean)


def test_parts_are_added_as_squares_and_the_dial_moves_all_but_the_evenness():
    parts = {"ppf": np.array([[0.03, 0.03, 0.03, 0.0]]), "room": np.array([[0.04, 0.0, 0.04, 0.1]])}
    doubt = Doubts(parts, np.array([0.12, 0.0]))
    at = doubt.at(0, 0)
    assert (at.mean, at.brightest, at.evenness) == pytest.approx((0.13, np.hypot(0.03, 0.12), 0.1))
    assert float(doubt.at(0, 1).mean) == pytest.approx(0.05)
    # PPF and dial go wrong together, the room by itself
    assert at.together == pytest.approx((0.03**2 + 0.12**2) / (at.mean * at.brightest))
    assert doubt.part("dial", 0, 0) == (0.12, 0.12, 0.12, 0.0)


def test_what_is_told_in_parts_is_what_is_told_in_all():
    doubts = replace(usual_doubts(3, 5), dial=np.linspace(0.2, 0, 5))
    outcome, target = Outcome(300, 400, 200, 0.66, 13, 100, 1), StageTarget(5, 30, 2000, 10, 14)
    for dial in range(5):
        sure = certainty(outcome, target, doubts, 1, dial)
        assert np.sqrt(sum(p.mean**2 for p in sure.parts)) == pytest.approx(sure.mean_tolerance)
        whole = np.sqrt(sum(p.dimmest**2 for p in sure.parts))
        assert whole == pytest.approx(sure.dimmest_tolerance, rel=1e-3)
        assert [p.mean for p in sure.parts] == sorted((p.mean for p in sure.parts), reverse=True)
        assert ("dial" in {p.name for p in sure.parts}) == (dial < 4)


def test_an_assumed_dial_may_give_39_to_52_per_cent_at_50():
    """Dials measured by growers; common practice, no source."""
    half, full = dial_doubt(np.array([0.5, 1.0]), known=False)
    assert full == 0
    assert np.exp(-NINETY * half) * 0.5 <= 0.40
    assert np.exp(NINETY * half) * 0.5 >= 0.52
    assert dial_doubt(np.array([0.5]), known=True)[0] < half / 3


def test_five_readings_at_one_spot_are_one_spot():
    again = read(*[(60, 45, 40)] * 5, (60.5, 45, 40), (61, 44, 40))
    assert mean_sd(again, 40) == mean_sd(read((60, 45, 40)), 40)
    assert mean_sd(over(FIVE, 40), 40) < mean_sd(again, 40)
    rows = np.array([(x, y, 40, 300.0) for x, y in FIVE])
    assert distinct_spots(rows, 120, 90) == 5


def test_a_lone_corner_at_another_height_makes_no_second_height():
    five = over(FIVE, 40)
    corner = MeasuredMap(BOX, 60, 45, 0.0, (*five.readings, (10.0, 10.0, 80.0, 150.0)))
    assert mean_sd(corner, 60) == mean_sd(five, 60)
    assert mean_sd(over(FIVE, 40, 80), 60) < mean_sd(five, 60)
    # but where single spots are all there is, they count
    middles = read((60, 45, 40), (60, 45, 80))
    assert mean_sd(middles, 60) < mean_sd(read((60, 45, 40)), 60)


@given(st.sampled_from(list(HEIGHTS)), st.sampled_from(list(HEIGHTS)))
def test_further_from_what_was_read_is_never_surer(one, two):
    taken = over(FIVE, 45)
    if (one - 45) * (two - 45) >= 0 and abs(one - 45) <= abs(two - 45):
        assert mean_sd(taken, one) <= mean_sd(taken, two)


def test_a_better_sensor_and_a_better_origin_make_it_surer():
    taken = over(FIVE, 30, 60)
    by = [mean_sd(taken, 45, sensor=sensor) for sensor in SENSOR]
    assert by == sorted(by)
    sds = [
        float(Doubts(lamp_doubts(HEIGHTS, NO_LINING, sd, known), np.zeros(1)).at(0, 0).mean)
        for sd, known in ((0.05, True), (0.10, True), (0.10, False))
    ]
    assert sds == sorted(sds)
    # a map made elsewhere does not know this lining; an altered lamp not its own shape
    lining = np.full((len(HEIGHTS), 4), 0.08)
    there = lamp_doubts(HEIGHTS, lining, 0.1, True, taken)
    assert "lining" in there
    assert "lining" not in lamp_doubts(HEIGHTS, lining, 0.1, True, taken, True)
    assert "footprint" in lamp_doubts(HEIGHTS, lining, 0.1, True, taken, True, altered=True)


def test_reading_makes_a_computed_light_surer():
    usual = usual_doubts(2, 1)
    read_ = after_reading(usual)
    for figure in ("mean", "brightest", "dimmest", "evenness"):
        assert (getattr(read_.at(0, 0), figure)) < getattr(usual.at(0, 0), figure)


def test_what_the_lining_does_is_what_tents_lined_so_say():
    """Against the full model with another reflectance, to a tenth of it."""
    lamp = PlacedLamp(Bars.even(5, 60, 80), 500, 60, 45, 40)
    grid = Grid(7, 6)
    points, weights = grid.points_cm(120, 90), grid.area_weights()
    tent = prepare(BOX, points)
    stack = height_stack(tent, lamp, HEIGHTS, weights)
    shares = relined_shares(tent, lamp, stack)
    rows = relined_rows(len(HEIGHTS))
    found = lining_doubt(stack.ppfd, shares * stack.ppfd[rows], weights)
    by = LINING_REFLECTANCE
    for k in (0, len(HEIGHTS) - 1):
        there = replace(lamp, height_cm=float(HEIGHTS[k]))
        ends = [
            prepare(
                replace(BOX, wall_reflectance=(0.8 + d,) * 4, ceiling_reflectance=0.8 + d), points
            ).irradiance(there)
            for d in (-by, by)
        ]
        for column, figure in enumerate((lambda e: e @ weights, np.max, np.min)):
            real = np.log(figure(ends[1]) / figure(ends[0])) / 2
            assert found[k, column] == pytest.approx(real, rel=0.1)


def test_an_open_space_has_no_lining_to_doubt():
    open_ = Enclosure(120, 90, 140, (0.0,) * 4, 0.0, 0.15)
    lamp = PlacedLamp(Board(60, 60), 500, 60, 45, 40)
    tent = prepare(open_, Grid(5, 5).points_cm(120, 90))
    stack = height_stack(tent, lamp, HEIGHTS, np.full(25, 1 / 25))
    assert relined_shares(tent, lamp, stack) == pytest.approx(0, abs=1e-12)
    whole = lamp_doubts(HEIGHTS, NO_LINING, 0.1, True, open_share=1.0)
    assert whole["room"][0, 0] > lamp_doubts(HEIGHTS, NO_LINING, 0.1, True)["room"][0, 0]


def test_lamps_together_are_as_sure_as_their_light():
    sure = {"ppf": np.full((2, 4), 0.04)}
    less = {"ppf": np.full((2, 4), 0.10), "footprint": np.full((2, 4), 0.06)}
    shares = np.array([[0.75, 0.0], [0.25, 1.0]])
    both = mixed([sure, less], shares)
    assert both["ppf"][:, 0] == pytest.approx([0.75 * 0.04 + 0.25 * 0.10, 0.10])
    assert both["footprint"][:, 0] == pytest.approx([0.015, 0.06])
