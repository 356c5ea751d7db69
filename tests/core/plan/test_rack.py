"""A rack of shelves: what falls through its boards, what it draws, lamps fixed under a board."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canopy.crop.targets import StageTarget
from canopy.daylight.lampday import Window
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.light.enclosure import Enclosure
from canopy.light.sources import Bars, PlacedLamp
from canopy.plan.bench import bench
from canopy.plan.levers import Setting
from canopy.plan.problem import Growth, HungLamp, StageProblem
from canopy.plan.rack import Drawn, falls_through, most_watts, on_the_board, overhead_share
from canopy.plan.stageplan import plan_stage

BLACK = Enclosure(100, 100, 100, (0.0,) * 4, 0.0, 0.0)


@pytest.mark.parametrize(
    ("side_cm", "apart_cm", "share"),
    [
        # from memory of Siegel & Howell, Thermal Radiation Heat Transfer: opposite faces of a cube
        (100, 100, 0.1998),
        # closed form for equal parallel squares, X = Y = 2 (their configuration C-11)
        (100, 50, 0.4153),
    ],
)
def test_an_even_ceiling_gives_the_floor_its_configuration_factor(side_cm, apart_cm, share):
    box = replace(BLACK, width_cm=side_cm, depth_cm=side_cm, height_cm=apart_cm)
    assert overhead_share(box) == pytest.approx(share, rel=0.01)


def test_what_falls_through_a_board():
    box = replace(BLACK, wall_reflectance=(0.8,) * 4)
    assert falls_through(200, 0.0, box) == 0
    half, whole = falls_through(200, 0.5, box), falls_through(200, 1.0, box)
    assert half == pytest.approx(whole / 2)
    # white sides keep most of it, a bare rack loses most of it sideways, nobody adds any
    assert falls_through(200, 1.0, BLACK) < whole < 200
    low = replace(box, height_cm=25)
    assert falls_through(200, 1.0, low) > whole


def test_leaves_keep_light_from_the_board():
    ppfd, weights = np.array([100.0, 300.0]), np.array([0.5, 0.5])
    everywhere, one = np.array([True, True]), np.array([True, False])
    assert on_the_board(ppfd, weights, everywhere, 0.0) == pytest.approx(200)
    # leaves all over let a twentieth through
    assert on_the_board(ppfd, weights, everywhere, 1.0) == pytest.approx(10)
    assert on_the_board(ppfd, weights, one, 1.0) == pytest.approx((5 + 300) / 2)


@settings(max_examples=60)
@given(
    st.lists(
        st.tuples(st.integers(0, 1439), st.integers(1, 96), st.integers(1, 500)),
        min_size=1,
        max_size=6,
    )
)
def test_the_most_a_rack_draws_is_that_of_its_worst_minute(levels):
    drawn = [Drawn((Window(on, quarters / 4),), watts) for on, quarters, watts in levels]

    def at(minute):
        return sum(watts for on, quarters, watts in levels if (minute - on) % 1440 < quarters * 15)

    watts, minute = most_watts(drawn)
    assert watts == max(at(m) for m in range(1440)) == at(minute)


TUBES = StageProblem(
    box=Enclosure(80, 36, 39, (0.75,) * 4, 0.6, 0.1),
    lamps=(HungLamp(PlacedLamp(Bars.even(2, 60, 14), 140, 40, 18, 0, turn_deg=90), watts=60),),
    lowest_cm=5,
    highest_cm=25,
    dimmer=Dimmer("continuous", (DialRow(10, 0.09, 0.11), DialRow(100, 1, 1))),
    timer_step_min=30,
    target=StageTarget(8, 16, 900, 12, 16),
    growth=Growth(9, 10, 20),
    fixed=True,
)


@pytest.mark.parametrize("aim", ["likely", "middle", "energy", "even", "gentle"])
@pytest.mark.parametrize("kept", [None, Setting(12, 60, 14)])
def test_lamps_fixed_under_a_board_stay_there(aim, kept):
    plan = plan_stage(replace(TUBES, aim=aim), kept)
    # the tops end 19 cm up, 25 under the lamp: it hangs at 44; on the first day, half a day's
    # growth above 9 cm, they are counted at 10
    assert set(plan.lamp_cm) == {44.0}
    assert [hang.above_floor_cm for hang in plan.hangings] == [44.0] * len(plan.hangings)
    assert {hang.by_cm for hang in plan.hangings} == {0.0}
    assert plan.setting.height_cm == TUBES.fixed_cm == 34
    if kept is None:
        assert plan.solution.fits
        assert bench(TUBES).solution.setting.height_cm == 34
        # where the lamp hangs is nobody's choice, so it is no reason either
        assert not {"height_lowest", "height_highest"} & set(plan.solution.binding)


def test_a_fixed_lamp_that_burns_is_told_by_the_cap_and_not_by_a_lever():
    fierce = replace(TUBES, target=StageTarget(2, 30, 20, 12, 16))
    plan = plan_stage(fierce)
    assert "hot_spot_cap" in plan.solution.relaxed
    assert {o.change for o in bench(fierce).solution.obstacles} <= {"higher_cap"}
