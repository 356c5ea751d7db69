"""Hours a timer can keep."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.crop.photoperiod import off_minute, rounded_hours, timer_hours
from canopy.errors import CanopyError
from canopy.quantities import dli_mol


def test_steps():
    assert timer_hours(10, 11, 30).tolist() == [10, 10.5, 11]
    assert timer_hours(10.1, 11, 60).tolist() == [11]
    assert len(timer_hours(10, 12, 1)) == 121


@pytest.mark.parametrize(("low", "high", "step"), [(10.1, 10.4, 60), (10, 12, 7)])
def test_hours_that_cannot_be(low, high, step):
    with pytest.raises(CanopyError):
        timer_hours(low, high, step)


@given(
    st.floats(4, 30), st.floats(50, 1500), st.sampled_from([15, 30, 60]), st.sampled_from([12, 18])
)
def test_rounding_never_passes_a_limit(dli, ppfd, step, longest):
    hours = rounded_hours(dli, ppfd, step, longest, dli * 1.05)
    assert hours <= longest
    assert (hours * 60) % step == pytest.approx(0, abs=1e-6)
    assert dli_mol(ppfd, hours) <= dli * 1.05 + 1e-9
    # one step more passes a limit or was not needed
    more = hours + step / 60
    needless = dli_mol(ppfd, hours) >= dli - 1e-9
    assert needless or more > longest or dli_mol(ppfd, more) > dli * 1.05 - 1e-9


def test_off_wraps_past_midnight():
    assert off_minute(18 * 60, 12) == 6 * 60
    assert off_minute(0, 24) == 0
