"""Heat against published factors and the trade's sums."""

import pytest

from canopy.errors import CanopyError
from canopy.power.energy import heat_btu_per_h
from canopy.power.heat import (
    M3_H_PER_CFM,
    WATTS_PER_FLOW_K,
    flow_m3_h,
    heating_saved,
    rise_k,
    too_warm,
    warmth,
)


def test_air_carries_what_the_handbook_says():
    # q [BTU/h] = 1.08 x CFM x dT [F] (from memory of ASHRAE Fundamentals); NIST SP 811 factors
    watts = 1.08 * 100 * 9 * 0.2930711
    assert rise_k(watts, 100 * M3_H_PER_CFM) == pytest.approx(5.0, rel=0.01)
    # dry air at 20 degrees: 1.204 kg/m3 and 1.006 kJ/(kg K)
    assert pytest.approx(1.204 * 1006 / 3600) == WATTS_PER_FLOW_K
    assert pytest.approx(4.719474e-4 * 3600, rel=1e-6) == M3_H_PER_CFM


def test_flow_and_rise_are_two_sides():
    assert rise_k(630, flow_m3_h(630, 4)) == pytest.approx(4)
    # 630 W -> about 2 150 BTU/h (common practice)
    assert heat_btu_per_h(630) == pytest.approx(2150, abs=5)
    for wrong in (lambda: rise_k(100, 0), lambda: flow_m3_h(100, 0)):
        with pytest.raises(CanopyError):
            wrong()


def test_drivers_outside_take_their_share_out_but_not_of_the_room():
    inside, outside = warmth(240, False, 20, 200, 100, 3), warmth(240, True, 20, 200, 100, 3)
    assert inside.tent_watts == 260
    assert outside.tent_watts < inside.tent_watts
    assert outside.room_watts == inside.room_watts == 260
    assert outside.tent_rise_k < inside.tent_rise_k
    assert outside.wanted_flow_m3_h < inside.wanted_flow_m3_h
    bare = warmth(240)
    assert (bare.tent_rise_k, bare.room_rise_k, bare.wanted_flow_m3_h) == (None, None, None)


def test_winter_and_warm_up():
    # 1.75 kWh, half of the hours heated at 0.12 a kWh of heat
    assert heating_saved(1.75, 0.5, 0.12) == pytest.approx(0.105)
    # heat sink 18-30 K above the room, driver up to about 35 K (common practice)
    assert too_warm(48, 56, 21) == (False, False)
    assert too_warm(53, 58, 21) == (True, True)
    assert too_warm(48, None, 21) == (False, False)
