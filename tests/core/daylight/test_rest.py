"""Until when the lamp has to be on, against the day summed up minute by minute."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.daylight.rest import lamp_until

PER_MIN = 60e-6


def sun(noon_ppfd):
    """Half a sine from eight to five."""
    minute = np.arange(1440)
    course = np.sin(np.pi * (minute - 480) / 540)
    return np.where((minute > 480) & (minute < 1020), course, 0.0) * noon_ppfd


@given(
    st.integers(0, 1439),
    st.floats(0, 600),
    st.floats(10, 600),
    st.floats(4, 20),
    st.integers(240, 600),
    st.integers(900, 1440),
)
def test_on_until_then_the_day_comes_to_its_aim(now, noon, ppfd, aim, on, last):
    course = sun(noon)
    window = float(course[:now].sum()) * PER_MIN
    lamp = max(now - on, 0) * ppfd * PER_MIN
    found = lamp_until(now, window, lamp, course, ppfd, aim, on, last)
    day = float(course.sum()) * PER_MIN
    if found.off_minute is None:
        # the day is full, or the lamp's hours are over
        assert day + lamp >= aim - 1e-9 or max(now, on) >= last
        return
    start = max(now, on)
    whole = day + lamp + (found.off_minute - start) * ppfd * PER_MIN
    assert found.off_minute <= last
    if found.line.code == "rest.until":
        # to the minute
        assert aim - 1e-9 <= whole <= aim + ppfd * PER_MIN + 1e-9
    else:
        assert whole < aim
        assert found.off_minute == last
        assert found.dli == pytest.approx(whole)


def test_worked_by_hand():
    # 7.9 mol are missing at noon; 400 umol give 0.024 mol a minute (exact): 330 minutes, 17:30
    found = lamp_until(720, 6.1, 0.0, np.zeros(1440), 400.0, 14.02, 360, 1320)
    assert found.off_minute == 1050
    assert found.line.figures["time"] == "17:30"
