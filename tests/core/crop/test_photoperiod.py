"""Hours a timer can keep."""

import pytest

from canopy.crop.photoperiod import off_minute, timer_hours
from canopy.errors import CanopyError


def test_steps():
    assert timer_hours(10, 11, 30).tolist() == [10, 10.5, 11]
    assert timer_hours(10.1, 11, 60).tolist() == [11]
    assert len(timer_hours(10, 12, 1)) == 121


@pytest.mark.parametrize(("low", "high", "step"), [(10.1, 10.4, 60), (10, 12, 7)])
def test_hours_that_cannot_be(low, high, step):
    with pytest.raises(CanopyError):
        timer_hours(low, high, step)


def test_off_wraps_past_midnight():
    assert off_minute(18 * 60, 12) == 6 * 60
    assert off_minute(0, 24) == 0
