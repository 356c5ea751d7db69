"""Lamps as emitters."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.light import sources
from canopy.light.beam import beam_power
from canopy.light.lightmap import even_grid
from canopy.light.sources import (
    Bars,
    Board,
    Listed,
    PlacedLamp,
    PointSource,
    Ring,
    without_part,
)
from canopy.light.transport import direct_irradiance, prepare

LAYOUTS = [
    Bars.even(6, 80, 100),
    Bars((-20, 5, 30), 50, (0.5, 0.5, 0.0), end_density=2),
    Bars.even(1, 60, 40),
    Board(46, 22),
    Ring(32),
    PointSource(),
    Listed(((0, 0, 0, 0.25), (10, 0, 1, 0.75))),
]


@pytest.mark.parametrize("layout", LAYOUTS, ids=lambda layout: type(layout).__name__)
@pytest.mark.parametrize("spacing", [2.0, 5.0, 13.0])
def test_shares_sum_to_one_and_stay_inside_the_outline(layout, spacing):
    places, shares = layout.emitters(spacing)
    assert shares.sum() == pytest.approx(1)
    assert (shares > 0).all()
    outline = layout.outline()
    assert (places.min(axis=0) >= outline.min(axis=0) - 1e-9).all()
    assert (places.max(axis=0) <= outline.max(axis=0) + 1e-9).all()


def test_emitters_stand_no_further_apart_than_asked():
    places, _ = Bars.even(1, 100, 0).emitters(5)
    assert np.diff(places[:, 1]).max() <= 5
    assert len(places) <= 40


def test_denser_ends():
    # density goes straight from 1 at the middle to 3 at the ends: the outer half of a bar
    # (from 1/2 to the end) holds the integral of 1 + 2u over 1/2..1 of that over 0..1: 1.25/2
    places, shares = Bars.even(1, 100, 0, end_density=3).emitters(1)
    outer = np.abs(places[:, 1]) > 25
    assert shares[outer].sum() == pytest.approx(1.25 / 2, abs=1e-4)


def test_an_unplugged_bar_gives_nothing_and_the_others_its_share():
    places, shares = Bars((-20, 0, 20), 50, (0.5, 0.0, 0.5)).emitters(5)
    assert not np.isclose(places[:, 0], 0).any()
    assert shares.sum() == pytest.approx(1)


@given(st.floats(-360, 360))
def test_turning_keeps_distances_and_height(turn):
    lamp = PlacedLamp(Bars.even(3, 40, 30), 500, 60, 50, 35, turn_deg=turn)
    places, flux = lamp.emitters(5)
    straight, _ = lamp.layout.emitters(5)
    from_middle = np.hypot(places[:, 0] - 60, places[:, 1] - 50)
    assert from_middle == pytest.approx(np.hypot(straight[:, 0], straight[:, 1]))
    assert places[:, 2] == pytest.approx(35)
    assert flux.sum() == pytest.approx(500)


def test_turn_runs_counter_clockwise_seen_from_above():
    lamp = PlacedLamp(Bars((10.0,), 1), 1, 0, 0, 30, turn_deg=90)
    places, _ = lamp.emitters(5)
    assert places.mean(axis=0) == pytest.approx([0, 10, 30], abs=1e-9)


def test_beam_power_of_a_full_width():
    # cos 60 deg = 1/2, cos^2 45 deg = 1/2: trigonometry
    assert beam_power(120) == pytest.approx(1)
    assert beam_power(90) == pytest.approx(2)


def test_unplugged_bars_take_their_share_of_the_light():
    lamp = Bars.even(4, 60, 90, (0.1, 0.4, 0.4, 0.1))
    left, share = lamp.without((1,))
    assert share == pytest.approx(0.6)
    assert left.bar_share == pytest.approx((1 / 6, 0, 4 / 6, 1 / 6))
    assert -15 not in left.emitters(5)[0][:, 0]
    for off in ((0, 1, 2, 3), (4,), (-1,)):
        with pytest.raises(CanopyError):
            lamp.without(off)


@pytest.mark.parametrize("side", ["left", "right", "front", "back"])
@pytest.mark.parametrize("layout", [Board(60, 40), Bars.even(6, 90, 80), Ring(40)])
def test_a_dead_part_takes_its_light_and_its_place(layout, side):
    whole, _ = layout.emitters(1.0)
    kept, left = without_part(layout, side, 1 / 3)
    assert left == pytest.approx(2 / 3)
    places, lit = kept.emitters(1.0)
    assert lit.sum() == pytest.approx(1)
    axis, sign = (0 if side in ("left", "right") else 1), (1 if side in ("left", "front") else -1)
    # the light's middle moves away from the dead side, and nothing is lit beyond the lamp
    assert sign * (lit @ places[:, axis]) > 2
    assert np.abs(places[:, axis]).max() <= np.abs(whole[:, axis]).max() + 0.1


def test_a_boards_dead_third_is_a_board_two_thirds_as_wide():
    """The middle of what still lights, by hand: 60 cm, 20 dead from the left, 20 to 60 left."""
    kept, _ = without_part(Board(60, 40), "left", 1 / 3)
    places, lit = kept.emitters(1.0)
    assert lit @ places[:, 0] == pytest.approx(10, abs=0.3)
    board = PlacedLamp(Board(40, 40), 200, 70, 50, 30)
    points = np.array([[x, 50.0, 0.0] for x in range(10, 120, 10)])
    whole = direct_irradiance(points, board)
    part = direct_irradiance(points, PlacedLamp(kept, 200, 60, 50, 30))
    assert part == pytest.approx(whole, rel=0.02)


def test_diodes_dead_here_and_there_leave_the_shape():
    assert without_part(Board(60, 40), "all", 0.25) == (Board(60, 40), 0.75)
    assert without_part(PointSource(), "left", 0.25)[1] == pytest.approx(0.75)
    with pytest.raises(CanopyError, match="dead"):
        without_part(Board(60, 40), "left", 0.99)


@pytest.mark.parametrize("height", [6, 15, 40, 80])
@pytest.mark.parametrize("strewn", ["evenly", "in clumps"])
def test_a_great_many_emitters_are_taken_together_within_half_a_per_cent(
    tent, monkeypatch, height, strewn
):
    """Two thousand one by one, and as many together as their height allows."""
    chance = np.random.default_rng(7)
    x, y = chance.uniform(-40, 40, 2000), chance.uniform(-30, 30, 2000)
    if strewn == "in clumps":
        x, y = 15 * np.round(x / 15) + x % 2, 15 * np.round(y / 15) + y % 2
    share = chance.uniform(0.5, 1.5, 2000)
    rows = np.column_stack([x, y, np.zeros(2000), share / share.sum()])
    lamp = PlacedLamp(Listed(tuple(map(tuple, rows.tolist()))), 500, 60, 45, height)
    points = even_grid(120, 90, 5.0).points_cm(120, 90)
    together = prepare(tent, points).irradiance(lamp)
    monkeypatch.setattr(sources, "MOST_SINGLE", 10_000)
    single = prepare(tent, points).irradiance(
        PlacedLamp(Listed(tuple(map(tuple, rows.tolist()))), 500, 60, 45, height)
    )
    assert together == pytest.approx(single, rel=0.005)


def test_taken_together_they_keep_their_light_and_its_middle():
    chance = np.random.default_rng(3)
    rows = np.column_stack([chance.uniform(-40, 40, (3000, 2)), np.zeros(3000), np.full(3000, 1)])
    rows[:, 3] /= 3000
    places, share = Listed(tuple(map(tuple, rows.tolist()))).emitters(10.0)
    assert len(share) < 500
    assert share.sum() == pytest.approx(1)
    assert share @ places == pytest.approx(rows[:, 3] @ rows[:, :3])
