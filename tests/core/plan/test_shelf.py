"""Many lamps in one tent, against the bench's own answer and against brute force."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.crop.targets import StageTarget
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.light.enclosure import Enclosure
from canopy.light.sources import Bars, Board, PlacedLamp, PointSource
from canopy.plan.bench import BenchProblem, HungLamp, bench
from canopy.plan.shelf import Candidate, Room, Shelf, hungriest, places

TENT = Enclosure(120, 90, 120, (0.75,) * 4, 0.75, 0.1)
DIAL = Dimmer("continuous", (DialRow(10, 0.09, 0.11), DialRow(100, 1, 1)))
TARGET = StageTarget(10, 20, 800, 10, 12, evenness_goal=0.5)
ROOM = Room(TENT, 100, TARGET, 15)


BARS = Bars.even(6, 76, 92)


def candidate(layout=BARS, ppf=624.0, x=98.0, y=78.0, **more):
    lamp = PlacedLamp(layout, ppf, 0, 0, 0)
    return Candidate(
        **{
            "lamp": lamp,
            "dimmer": DIAL,
            "watts": ppf / 2.6,
            "weight_kg": 6.0,
            "frame_x_cm": x,
            "frame_y_cm": y,
            "body_cm": 7.0,
            "closest_cm": 15.0,
            **more,
        }
    )


@pytest.fixture(scope="module")
def shelf():
    return Shelf(ROOM)


def test_a_ranked_lamp_does_what_the_bench_says_it_does(shelf):
    found = shelf.rank(candidate())
    lamp = HungLamp(replace(candidate().lamp, x_cm=60, y_cm=45), watts=240)
    ready = bench(BenchProblem(TENT, (lamp,), 15, 93, DIAL, 15, TARGET))
    index = ready.space.nearest(found.solution.setting)
    # the shelf's heights are few: compare at the nearest whole centimetre
    there = ready.space.outcome(index)
    assert found.meets
    assert found.solution.outcome.mean == pytest.approx(there.mean, rel=0.02)
    assert found.solution.outcome.peak == pytest.approx(there.peak, rel=0.03)
    assert found.solution.outcome.dli == pytest.approx(ready.solution.outcome.dli, rel=0.03)
    assert found.canopy_umol_s == pytest.approx(found.solution.outcome.mean * 1.2 * 0.9)
    assert found.reserve >= 1


def test_the_shelf_finds_those_that_a_slow_search_finds(shelf):
    rng = np.random.default_rng(4)
    for _ in range(12):
        wide, ppf = float(rng.uniform(20, 110)), float(rng.uniform(60, 900))
        lamp = candidate(Board(wide, 40), ppf, wide, 40)
        found = shelf.rank(lamp)
        slow = bench(
            BenchProblem(
                TENT,
                (HungLamp(replace(lamp.lamp, x_cm=60, y_cm=45), watts=lamp.watts),),
                15,
                93,
                DIAL,
                15,
                TARGET,
            )
        )
        assert found.meets == slow.solution.fits


@pytest.mark.parametrize(
    ("more", "room", "words"),
    [
        ({"x": 130.0, "y": 95.0}, {}, "does not go in"),
        ({"closest_cm": 95.0}, {}, "2 cm more headroom"),
        ({"weight_kg": 9.0}, {"bears_kg": 8.0}, "Weighs 9 kg"),
        (
            {"count": 2, "x": 50.0, "y": 40.0, "layout": Board(40, 30)},
            {"circuit_w": 300.0},
            "Draws 480 W",
        ),
        ({"count": 3, "x": 60.0, "y": 50.0, "layout": Board(40, 30)}, {}, "do not go side by side"),
    ],
)
def test_what_keeps_a_lamp_out_is_said(more, room, words):
    found = Shelf(replace(ROOM, **room)).rank(candidate(**more))
    assert words in found.refused
    assert not found.meets


def test_two_small_ones_side_by_side_are_more_even_than_one_in_the_middle(shelf):
    one = shelf.rank(candidate(PointSource(), 600, 20, 20))
    two = shelf.rank(candidate(PointSource(), 300, 20, 20, count=2))
    assert two.solution.outcome.evenness > one.solution.outcome.evenness
    spots = places(candidate(PointSource(), 300, 20, 20, count=2), TENT)
    assert [(x, y) for x, y, _ in spots] == [(30, 45), (90, 45)]


def test_a_weak_lamp_says_what_is_missing_and_a_strong_one_what_is_left(shelf):
    weak, strong = shelf.rank(candidate(ppf=120.0)), shelf.rank(candidate(ppf=1200.0))
    assert "stronger_lamp" in [o.change for o in weak.solution.obstacles]
    assert strong.reserve > 1.5 * weak.reserve


def test_the_hungriest_stage_asks_for_the_most_ppfd():
    # 6 mol in 18 h, 13 in 18 h, 15 in 12 h: 93, 201 and 347 umol
    stages = [
        StageTarget(4, 8, 250, 14, 18),
        StageTarget(10, 16, 600, 14, 18),
        StageTarget(10, 20, 800, 10, 12),
    ]
    assert hungriest(stages) == 2
    assert hungriest(stages[:2]) == 1
