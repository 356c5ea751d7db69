"""Circuits against handbook tables, labels and sums by hand."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.power.circuit import (
    PRESETS,
    Lead,
    Limits,
    Load,
    check_circuit,
    electrical,
    gauge_mm2,
    gauge_of,
    together,
)

WIDE = Limits(230.0, 16.0)


def test_what_goes_together():
    # 972.3 W at 232 V, 4.25 A -> 986 VA, PF 0.986 (common practice, no source)
    found = electrical(232, 972.3, 4.25, measured=True)
    assert (round(found.va), round(found.power_factor, 3)) == (986, 0.986)
    assert electrical(230, 200, power_factor=0.9).amps == pytest.approx(200 / 207)
    assert electrical(120, amps=2.0, power_factor=1.0).watts == 240


@pytest.mark.parametrize(
    ("figures", "field"), [({}, "watts"), ({"watts": 500, "amps": 1.0}, "amps")]
)
def test_what_cannot_be_drawn(figures, field):
    with pytest.raises(CanopyError) as caught:
        electrical(230, **figures)
    assert caught.value.field == field


# IEC 60228 (2004), table 3, class 5, plain copper at 20 degrees: ohm/km (from memory)
@pytest.mark.parametrize(
    ("mm2", "ohm_km"), [(0.75, 26.0), (1.0, 19.5), (1.5, 13.3), (2.5, 7.98), (4.0, 4.95)]
)
def test_leads_resist_as_the_table_says(mm2, ohm_km):
    assert Lead(500, mm2).ohm(20) == pytest.approx(ohm_km, rel=0.03)


# ASTM B258: diameters in mm by gauge (from memory)
@pytest.mark.parametrize(
    ("gauge", "mm"), [(18, 1.024), (16, 1.291), (14, 1.628), (12, 2.053), (10, 2.588)]
)
def test_gauges(gauge, mm):
    assert gauge_mm2(gauge) == pytest.approx(3.14159265 / 4 * mm**2, rel=0.002)
    assert gauge_of(gauge_mm2(gauge)) == gauge


def test_a_drop_by_hand():
    # 10 A through 20 m of 1.5 mm2 at 20 degrees: 40 m x 13.3 ohm/km x 10 A = 5.3 V; warm 8 % more
    assert Lead(20, 1.5).drop_volts(10) == pytest.approx(5.32 * 1.0786, rel=1e-3)
    found = check_circuit([Load("Heater", 2300, 1.0)], Limits(230, 16, lead=Lead(25, 1.5)))
    assert [f.code for f in found.findings] == ["circuit.drop"]


def test_a_lamp_and_what_else_runs():
    loads = [
        Load("Lamp", 972.3, amps=4.25, timed=True, hours=12),
        Load("Fan", 30, 0.6),
        Load("Heater", 500, 1.0, duty=0.5),
    ]
    found = check_circuit(loads, Limits(232, 16, timer_a=4.0))
    assert found.total.watts == pytest.approx(1502.3)
    assert found.total.amps == pytest.approx(4.25 + 30 / (232 * 0.6) + 500 / 232)
    assert not found.total.measured
    by_part = {strain.part: strain for strain in found.strains}
    # what only runs half of the time is not counted as continuous
    assert by_part["continuous"].drawn_a == pytest.approx(4.25 + 30 / (232 * 0.6))
    assert by_part["continuous"].limit_a == pytest.approx(12.8)
    assert [f.code for f in found.findings] == ["circuit.timer"]
    assert found.over


def test_chained_lamps_go_through_the_first_cord():
    # 4 x 240 W at 120 V, power factor 0.95: 8.4 A through a cord for 7 A; the worst comes first
    chain = Load("Lamps", 960, count=4, timed=True, chained=True, hours=14, inrush_a=2)
    found = check_circuit([chain, Load("Humidifier", 400)], Limits(120, 15, cord_a=7, plug_a=10))
    assert [f.code for f in found.findings] == ["circuit.plug", "circuit.cord"]


def test_what_hangs_elsewhere_loads_the_breaker_alone():
    lamp = Load("Lamp", 960, timed=True, inrush_a=9)
    other = replace(lamp, name="Other", elsewhere=True)
    limits = Limits(120, 15, plug_a=10, strip_a=10, timer_a=10, lead=Lead(3, 1.5))
    found = check_circuit([lamp, other], limits)
    one = 960 / (120 * lamp.power_factor)
    drawn = {strain.part: strain.drawn_a for strain in found.strains}
    assert drawn["breaker"] == drawn["continuous"] == pytest.approx(2 * one)
    own = [drawn[part] for part in ("plug", "strip", "timer", "lead")]
    assert own == pytest.approx([one] * 4)
    assert [f.code for f in found.findings] == ["circuit.continuous", "circuit.breaker"]


def test_starts_are_parted():
    # 40 A each when its maker does not say; a 16 A breaker may trip at once from 80 A on
    lamps = Load("Lamp", 600, count=3, timed=True)
    found = check_circuit([lamps], WIDE)
    assert found.starts == (("Lamp 1", "Lamp 2"), ("Lamp 3",))
    assert found.inrush_a == 120
    assert [f.code for f in found.findings] == ["circuit.inrush"]
    assert len(together([Load("Lamp", 200, timed=True)], WIDE)) == 1
    assert together([Load("Pump", 20)], WIDE) == ()


@given(
    st.lists(
        st.builds(
            Load,
            st.just("Lamp"),
            st.floats(1, 900),
            count=st.integers(1, 5),
            inrush_a=st.none() | st.floats(0.1, 70),
            timed=st.booleans(),
        ),
        max_size=5,
    )
)
def test_no_group_of_starts_trips_the_breaker_unless_one_alone_does(loads):
    starts = together(loads, WIDE)
    assert sum(len(group) for group in starts) == sum(ld.count for ld in loads if ld.timed)
    running = sum(ld.drawn(230).amps for ld in loads if not ld.timed)
    # walk through the starts in order
    each = [
        (ld.start_a, ld.drawn(230).amps / ld.count)
        for ld in loads
        if ld.timed
        for _ in range(ld.count)
    ]
    at = 0
    for group in starts:
        now = each[at : at + len(group)]
        assert len(group) == 1 or running + sum(a for a, _ in now) <= 80 + 1e-9
        running += sum(amps for _, amps in now)
        at += len(group)


def test_nothing_on_it_and_presets():
    empty = check_circuit([], PRESETS["120"])
    assert (empty.total.amps, empty.over, empty.findings, empty.inrush_a) == (0, False, (), 0)
    assert PRESETS["230"].volts == 230
    # US practice (from memory): 80 % of 15 A is 12 A
    continuous = next(s for s in empty.strains if s.part == "continuous")
    assert continuous.limit_a == pytest.approx(12)
