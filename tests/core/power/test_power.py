"""Energy, heat and headroom."""

import pytest

from canopy.errors import CanopyError
from canopy.power.energy import energy_kwh, heat_btu_per_h
from canopy.power.hanging import (
    check_headroom,
    fitting_turn_deg,
    reachable_heights_cm,
)
from tests.published.values import BTU_OF_630_W, ENERGY


def test_a_worked_season():
    watts, hours, days, kwh = ENERGY
    assert energy_kwh(watts, hours, days) == pytest.approx(kwh, abs=0.005)
    # 3.28 at 0.085 per kWh, 0.36 each for nine plants; common practice, no source
    assert energy_kwh(watts, hours, days) * 0.085 == pytest.approx(3.28, abs=0.005)
    assert energy_kwh(watts, hours, days) * 0.085 / 9 == pytest.approx(0.36, abs=0.005)


def test_all_watts_end_as_heat():
    known = BTU_OF_630_W
    assert heat_btu_per_h(630) == pytest.approx(known.value, abs=known.tolerance), known.source


def test_headroom_by_tape_measure():
    assert reachable_heights_cm(15, 17.9).tolist() == [15, 16, 17]
    with pytest.raises(CanopyError, match="5 cm more headroom"):
        reachable_heights_cm(15, 10)
    with pytest.raises(CanopyError, match="headroom would be -5 cm"):
        check_headroom(40, 35, 10)


@pytest.mark.parametrize(
    ("frame", "space", "turn"),
    [
        ((98, 78), (120, 90), 0),
        ((78, 98), (120, 90), 90),
        ((28, 58), (80, 36), 90),
        ((30, 30), (80, 36), 0),
        ((20, 60), (120, 90), 90),
    ],
)
def test_a_lamp_is_turned_to_fit(frame, space, turn):
    assert fitting_turn_deg(*frame, *space) == turn


def test_a_lamp_larger_than_the_tent():
    with pytest.raises(CanopyError, match="108 x 108") as refused:
        fitting_turn_deg(108, 108, 120, 90)
    assert refused.value.field == "fixture_id"
