"""Hours of full light that ramps and the heat take."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.daylight.lampday import LampDay
from canopy.daylight.losses import NO_LOSSES, Heat, Losses

# a cosine of 8 K round 26 C is above 28 C while cos > 0.5: a third of the day, 11 to 19
WARM = Heat(26, 8, 28)


@pytest.mark.parametrize(
    ("on_minute", "hours", "lost"),
    [
        (6 * 60, 18, 8),
        # lit from 17 on only two of those hours are lost; lit by night none
        (17 * 60, 8, 2),
        (20 * 60, 8, 0),
        # shorter days end before the warmest hours
        (6 * 60, 5, 0),
        (6 * 60, 8, 3),
    ],
)
def test_the_heat_keeps_the_lamp_off_while_it_should_be_on(on_minute, hours, lost):
    assert Losses(heat=WARM, day=LampDay(on_minute)).lost_h(hours) == pytest.approx(lost, abs=0.05)


def test_two_ramps_cost_one_of_them_in_full_light():
    # half an hour up and half an hour down give half an hour of full light in all
    assert Losses(ramp_min=30).full_h(12) == pytest.approx(11.5)
    assert Losses(ramp_min=30).full_h(0.25) == 0
    assert NO_LOSSES.full_h(np.array([8.0, 12.0])).tolist() == [8, 12]


@given(st.integers(0, 1439), st.floats(10, 40), st.floats(0, 20), st.floats(0, 90))
def test_longer_days_never_give_less_full_light(on_minute, mean_c, swing_c, ramp_min):
    losses = Losses(ramp_min, Heat(mean_c, swing_c, 28), LampDay(on_minute))
    full = losses.full_h(np.arange(0, 24.01, 0.25))
    assert (np.diff(full) >= -1e-9).all()
    assert (full <= np.arange(0, 24.01, 0.25)).all()
