"""What carries the lamps, and cords along their way: by hand, and whatever the turn."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.power.cords import CORNERS, DRIP_LOOP_CM, Socket, cord_path
from canopy.power.hangers import hanger_marks_cm, travel, usual_hangers, weighed
from canopy.power.hanging import Frame


def frame(x, y, turn=0.0, at=(60, 45)):
    return Frame(x, y, 6, 15, *at, turn_deg=turn)


def test_a_frame_with_a_margin():
    # two lamps of 6 and 4 kg with 3 kg of hangers and filter on a frame for 20 kg
    found = weighed([6, 4], [4, 2], 3, 20)
    assert (found.total_kg, found.spare_kg, found.over) == (13, 3, False)
    assert found.shares_kg == (1.5, 2)
    # four are never level: two may carry all
    assert found.worst_kg == (3, 2)
    assert weighed([17], [2], 0, 20).over
    assert not weighed([17], [1]).over


@pytest.mark.parametrize(("x", "y", "many"), [(15, 12, 1), (90, 12, 2), (80, 90, 4)])
def test_hangers_by_size(x, y, many):
    lamp = frame(x, y)
    assert usual_hangers(lamp) == many
    assert hanger_marks_cm(lamp, many).shape == (many, 2)


def test_marks_by_hand():
    # 80 x 90 over (60, 45): in by 15 % of each side
    four = np.array([[32, 13.5], [88, 13.5], [88, 76.5], [32, 76.5]])
    assert hanger_marks_cm(frame(80, 90), 4) == pytest.approx(four)
    assert hanger_marks_cm(frame(12, 90), 2) == pytest.approx(np.array([[60, 13.5], [60, 76.5]]))


@given(st.floats(-360, 360), st.sampled_from([1, 2, 4]), st.floats(10, 120), st.floats(10, 120))
def test_marks_balance_over_the_lamps_middle_and_lie_within_it(turn, many, x, y):
    lamp = frame(x, y, turn)
    marks = hanger_marks_cm(lamp, many)
    assert marks.mean(axis=0) == pytest.approx([60, 45])
    corners = lamp.corners_cm() - [60, 45]
    assert np.hypot(*(marks - [60, 45]).T).max() <= np.hypot(*corners.T).max()


def test_ratchets_over_a_season():
    found = travel([96, 96, 110, 124], 6, 200)
    assert (found.travel_cm, found.rope_cm, found.short_cm) == (28, 98, 0)
    assert travel([40], 5, 240).short_cm == 45


def test_a_cord_by_hand():
    # in the middle of 120 x 90 x 200, face at 90, 6 high: 104 up, 60 + 45 along, 140 down, 50 out
    path = cord_path((60, 45), 90, 6, (120, 90, 200), Socket("back-left", 60, 50), 300)
    # 129 cm too short: the ceiling would have to be at 225
    assert [leg.cm for leg in path.legs] == [104, 105, 140, 50, DRIP_LOOP_CM]
    assert (path.needed_cm, path.missing_cm, path.reaches_from_cm) == (429, 129, None)
    # 380 cm are 49 short: enough if it never hangs lower than 139
    near = cord_path((60, 45), 90, 6, (120, 90, 200), Socket("back-left", 60, 50), 380)
    assert (near.missing_cm, near.reaches_from_cm) == (49, 139)
    assert cord_path((60, 45), 90, 6, (120, 90, 200), Socket()).missing_cm == 0


@given(
    st.sampled_from(CORNERS),
    st.floats(10, 110),
    st.floats(10, 80),
    st.floats(30, 180),
    st.floats(50, 800),
)
def test_raised_as_far_as_it_says_the_cord_reaches(corner, x, y, low, cord):
    space, socket = (120, 90, 200), Socket(corner)
    path = cord_path((x, y), low, 6, space, socket, cord)
    if path.reaches_from_cm is not None:
        higher = cord_path((x, y), path.reaches_from_cm, 6, space, socket, cord)
        assert higher.missing_cm == pytest.approx(0, abs=1e-6)
        lower = cord_path((x, y), path.reaches_from_cm - 1, 6, space, socket, cord)
        assert lower.missing_cm > 0
