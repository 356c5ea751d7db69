"""Several lamps on one rail: where they fit and how far the rail goes."""

import numpy as np
import pytest

from canopy.errors import CanopyError
from canopy.power.hanging import Frame, check_inside, rail_limits_cm


def hang(**more):
    return Frame(
        **{
            "frame_x_cm": 60,
            "frame_y_cm": 20,
            "body_cm": 8,
            "closest_cm": 15,
            "x_cm": 60,
            "y_cm": 45,
            **more,
        }
    )


def test_corners_follow_turn_and_tilt():
    # a quarter turn swaps the sides; tilted by 60 degrees the width seen from above halves
    straight = np.ptp(hang().corners_cm(), axis=0)
    turned = np.ptp(hang(turn_deg=90).corners_cm(), axis=0)
    assert straight == pytest.approx([60, 20])
    assert turned == pytest.approx([20, 60])
    assert np.ptp(hang(tilt_deg=60).corners_cm(), axis=0) == pytest.approx([30, 20])
    # 45 degrees: (60 + 20) / sqrt 2 both ways
    assert np.ptp(hang(turn_deg=45).corners_cm(), axis=0) == pytest.approx([80 / 2**0.5] * 2)


@pytest.mark.parametrize(
    ("more", "sentence"),
    [
        ({"x_cm": 26}, "Lamp 2 sticks out 4 cm at the left side"),
        ({"x_cm": 95}, "5 cm at the right"),
        ({"y_cm": 9}, "1 cm at the front"),
        ({"turn_deg": 90, "y_cm": 65}, "5 cm at the back"),
    ],
)
def test_a_lamp_that_sticks_out_is_named(more, sentence):
    with pytest.raises(CanopyError, match=sentence) as caught:
        check_inside([hang(), hang(**more)], 120, 90)
    assert caught.value.field == "lamps.1"


def test_the_rail_ends_where_the_first_lamp_touches_a_limit():
    # alone: from its clearance to the room less its body
    assert rail_limits_cm([hang()], 100, [0]) == (15, 92)
    # a lamp 10 cm higher takes 10 from the top; over a step of 12 cm one keeps 12 more away
    assert rail_limits_cm([hang(), hang(raise_cm=10)], 100, [0, 0]) == (15, 82)
    assert rail_limits_cm([hang(), hang()], 100, [0, 12]) == (27, 92)
    # tilted by 30 degrees half of half its width hangs lower, and as much higher
    assert rail_limits_cm([hang(tilt_deg=-30)], 100, [0]) == pytest.approx((30, 77))
