"""Watts at the plug: what people measured lies inside, and advice, followed, works."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.measure.socket import AGREES, by_socket
from tests.core.measure.test_dialcurve import MEASURED

ROWS = ((10, 0.09, 0.11), (50, 0.36, 0.4), (100, 1.0, 1.0))
DIAL = Dimmer("continuous", tuple(DialRow(*row) for row in ROWS))
FIXED = Dimmer("none")


@pytest.mark.parametrize(("dial", "watts", "light"), MEASURED)
def test_light_people_measured_lies_inside_the_range(dial, watts, light):
    # the dial said to be at full, and the meter shows that it is not
    found = by_socket(300 * watts, 100, DIAL, 300)
    assert found.low <= light <= found.high
    assert found.line.code == "socket.less_full"


@given(st.floats(10, 100), st.floats(0.3, 1.6))
def test_the_advice_brings_the_light_that_was_planned(dial, off):
    planned_watts = float(DIAL.watts_fraction(dial)) * 300
    watts = planned_watts * off
    if watts > 600:
        return
    found = by_socket(watts, dial, DIAL, 300)
    assert found.expected_watts == pytest.approx(planned_watts)
    assert found.low <= found.middle <= found.high
    assert (found.change > 0) == (watts > planned_watts) or abs(off - 1) < 1e-9
    # turned to what the sentence names the lamp gives what was planned
    again = by_socket(found.expected_watts, dial, DIAL, 300)
    assert again.middle == pytest.approx(again.planned)
    assert again.line.code == "socket.agrees"
    if found.line.code == "socket.less":
        assert dial < 100
    elif found.line.code == "socket.more":
        assert dial > 10
    elif found.line.code == "socket.agrees":
        assert abs(off - 1) <= AGREES * 1.02


def test_a_lamp_without_a_dial_is_not_to_be_turned():
    assert by_socket(80, 100, FIXED, 100).line.code == "socket.less_full"
    assert by_socket(120, 100, FIXED, 100).line.code == "socket.more_full"


@pytest.mark.parametrize(
    ("watts", "dial", "sentence"),
    [(0, 50, "is the lamp on"), (700, 50, "more than twice"), (30, 0, "no light")],
)
def test_what_cannot_be_is_refused(watts, dial, sentence):
    dark = Dimmer("stepped", (DialRow(0, 0, 0), DialRow(100, 1, 1)))
    with pytest.raises(CanopyError, match=sentence):
        by_socket(watts, dial, dark, 300)
