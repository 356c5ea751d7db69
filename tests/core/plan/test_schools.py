"""What each school does, by its own rule (common practice, no source)."""

import numpy as np
import pytest

from canopy.crop.targets import StageTarget
from canopy.plan.levers import LeverSpace, Setting
from canopy.plan.schools import Practice, doubled, opinions
from canopy.words import worded

HEIGHTS = np.arange(15.0, 101.0)
MEAN = 900 * 45 / (HEIGHTS + 30)
RATIO = 1 + 30 / HEIGHTS
DIALS = np.arange(10.0, 101.0)
# a dial that lies: 50 on the scale is 36 % of the watts and 39 % of the light
LIGHT = np.interp(DIALS, [10, 50, 100], [0.06, 0.39, 1.0])
WATTS = 300 * np.interp(DIALS, [10, 50, 100], [0.05, 0.36, 1.0])
SPACE = LeverSpace(
    HEIGHTS,
    DIALS,
    np.arange(10, 12.01, 0.25),
    np.outer(MEAN, LIGHT),
    np.outer(MEAN * RATIO, LIGHT),
    np.outer(MEAN / RATIO, LIGHT),
    np.outer(MEAN, LIGHT),
    LIGHT,
    WATTS,
)
TARGET = StageTarget(10, 20, 800, 10, 12, response="short-day")
PLAN = Setting(45.0, 72.0, 11.0)
PRACTICE = Practice(300, 20.0, 60.0, 0.5, True, False)


def found(practice=PRACTICE, target=TARGET):
    return {o.school: o for o in opinions(SPACE, target, PLAN, practice)}


def test_every_school_follows_its_rule():
    all_of = found()
    assert len(all_of) == 12
    hot = all_of["hot_spot_first"].setting.height_cm
    peak = np.interp(hot, HEIGHTS, MEAN * RATIO)
    below = np.interp(hot - 1, HEIGHTS, MEAN * RATIO)
    assert peak <= 1000 < below  # as low as the brightest spot allows
    # 40-50 % above the maker's lowest; the chart's middle; about 45 cm; 200-399 W 30-50 cm
    assert 20 * 1.4 <= all_of["evenness_first"].setting.height_cm <= 20 * 1.5
    assert all_of["makers_chart"].setting.height_cm == 40
    assert all_of["middle_start"].setting.height_cm == 45
    assert 30 <= all_of["by_watts"].setting.height_cm <= 50
    # further than anybody, further still before reflective walls
    assert all_of["cautious"].setting.height_cm > 60
    dull = found(Practice(300, 20.0, 60.0, 0.5, False, False))
    assert dull["cautious"].setting.height_cm < all_of["cautious"].setting.height_cm
    # up to about 1500 with CO2
    rich = found(Practice(300, 20.0, 60.0, 0.5, True, True))
    assert rich["hot_spot_first"].setting.height_cm < hot
    assert all_of["dli_first"].setting == PLAN


@pytest.mark.parametrize(
    ("school", "height_cm", "dial_pct", "hours", "dli"),
    [
        # by hand: the mean at full is 40500/(h + 30), the brightest spot 40500/h; the DLI is
        # mean x light x hours x 0.0036; hours are the fewest, 10, where they reach the band's
        # middle of 15
        ("hot_spot_first", 41, 100, 10, 20.54),  # 40500/1000 = 40.5 cm; 570.4 umol
        ("evenness_first", 29, 100, 10, 24.71),  # 20 cm and 45 %; 686.4
        ("makers_chart", 40, 100, 10, 20.83),  # halfway from 60 down to 20; 578.6
        ("middle_start", 45, 100, 10, 19.44),  # 540
        ("by_watts", 40, 100, 10, 20.83),  # 300 W: the middle of 30 to 50
        ("cautious", 80, 100, 11.5, 15.24),  # 60 and a quarter, and 5 for the walls; 368.2, 11.3 h
        ("dial_is_light", 45, 66, 11, 12.51),  # dial 72 gives 65.8 %; 66 gives 0.39 + 0.61 x 16/50
        ("watts_fraction", 45, 73, 11, 14.34),  # 65.8 % of the watts at 50 + 50 (0.658 - 0.36)/0.64
        ("ppfd_first", 45, 100, 12, 23.33),  # 750 wanted, 540 to be had
        ("dli_first", 45, 72, 11, 14.08),
    ],
)
def test_every_school_is_held_to_a_figure_by_hand(school, height_cm, dial_pct, hours, dli):
    opinion = found()[school]
    assert opinion.setting == Setting(height_cm, dial_pct, hours)
    assert opinion.outcome.dli == pytest.approx(dli, abs=0.005)


def test_those_who_trust_the_dial_get_less_and_are_told():
    opinion = found()["dial_is_light"]
    light = float(np.interp(PLAN.dial_pct, DIALS, LIGHT))
    assert opinion.setting.dial_pct == pytest.approx(light * 100, abs=0.51)
    assert opinion.outcome.mean < 0.9 * np.interp(45, HEIGHTS, MEAN) * light
    assert f"{light * 100:.0f} %" in worded(opinion.note)


def test_lumens_an_area_are_light_only_by_the_lamps_own_spectrum():
    # 3000 lm a square foot are about 32 klx, 460 umol of a white LED (common practice, no source)
    white = found()["lumens_an_area"]
    assert pytest.approx(white.note.figures["lux"]) == 3000 / 0.09290304
    assert white.note.figures["ppfd"] == pytest.approx(461, abs=1)
    assert white.note.code == "school.lumens_white"
    # the dial that gives it at the plan's height, by the light and not by the scale
    assert white.outcome.mean == pytest.approx(461, rel=0.03)
    # sodium, 82 lux an umol (from memory of Thimijan & Heins 1983), asks for less light
    sodium = found(Practice(300, 20.0, 60.0, 0.5, True, False, 1.08, 82.0))["lumens_an_area"]
    assert sodium.note.figures["ppfd"] == pytest.approx(32_292 / 82, rel=1e-3)
    assert sodium.outcome.mean < white.outcome.mean


@pytest.mark.parametrize(("area_m2", "watts"), [(0.4, 137.8), (0.8, 275.6), (3.0, 300.0)])
def test_watts_an_area_are_a_dial_by_watts_and_no_more_than_there_are(area_m2, watts):
    # 32 W a square foot (common practice, no source); the foot is 0.3048 m
    opinion = found(Practice(300, 20.0, 60.0, 0.5, True, False, area_m2))["watts_an_area"]
    assert opinion.outcome.watts == pytest.approx(watts, rel=0.02)
    assert opinion.note.figures["watts"] == pytest.approx(32 / 0.3048**2 * area_m2)


def test_those_who_go_by_watts_get_a_little_more():
    # light falls less than watts when dimmed, so a watts share of it is more light
    opinion = found()["watts_fraction"]
    light = float(np.interp(PLAN.dial_pct, DIALS, LIGHT))
    assert opinion.outcome.mean > np.interp(45, HEIGHTS, MEAN) * light


def test_a_ppfd_band_beside_chart_hours_passes_a_chrysanthemums_dli():
    # 600-900 umol at 12 h is 26-39 mol, over a chrysanthemum's 10-20
    opinion = found()["ppfd_first"]
    assert opinion.setting.hours == 12
    assert opinion.outcome.mean == pytest.approx(min(750, np.interp(45, HEIGHTS, MEAN)), rel=0.02)
    assert "dli_high" in opinion.missed


def test_the_wrong_row_of_a_chart_is_named_only_where_it_is_another():
    # 11 of the chart's 12 h are 92 % of its light
    assert "11 h give 92 % of it" in worded(found()["ppfd_first"].note)
    same = opinions(SPACE, TARGET, Setting(45.0, 72.0, 12.0), PRACTICE)
    assert "Read the row" not in next(worded(o.note) for o in same if o.school == "ppfd_first")


def test_a_lamp_without_a_chart_is_said_to_have_none():
    opinion = found(Practice(300, None, None, 0.5, False, False))["makers_chart"]
    assert "gives no heights" in worded(opinion.note)


def test_doubling_the_distance():
    far = doubled(SPACE, 30.0)
    # the table's own law: 900 x 45 / (h + 30), so (30 + 30) / (60 + 30)
    assert far.mean_share == pytest.approx(60 / 90)
    assert far.inverse_square == 0.25
    assert doubled(SPACE, 60.0) is None
