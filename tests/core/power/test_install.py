"""What readings at the install say of the plan."""

import pytest

from canopy.errors import CanopyError
from canopy.power.install import READINGS, Planned, check_reading, verdict

PLAN = Planned(on_minute=360, off_minute=1080, watts=630, tent_rise_k=4)


@pytest.mark.parametrize(
    ("step", "read", "codes"),
    [
        # people note 5:00 and set 6:00
        ("timer", {"on_minute": 360, "off_minute": 1080}, ["install.timer_agrees"]),
        ("timer", {"on_minute": 300, "off_minute": 1080}, ["install.timer_on"]),
        ("timer", {"on_minute": 300, "off_minute": 0}, ["install.timer_on", "install.timer_off"]),
        ("watts", {"watts": 641}, ["install.watts_agree"]),
        ("watts", {"watts": 760}, ["install.watts_more"]),
        ("watts", {"watts": 0}, ["install.watts_less"]),
        # 972.3 W at 232 V, 4.25 A -> power factor 0.986 (common practice, no source)
        (
            "watts",
            {"watts": 630, "volts": 232, "amps": 2.754},
            ["install.watts_agree", "install.meter"],
        ),
        ("warm", {"sink_c": 47, "room_c": 21}, ["install.warm_well"]),
        (
            "warm",
            {"sink_c": 53, "driver_c": 58, "room_c": 21},
            ["install.sink_hot", "install.driver_hot"],
        ),
        ("warm", {"sink_c": 45, "room_c": 21, "tent_c": 31}, ["install.tent_hot"]),
    ],
)
def test_readings_against_the_plan(step, read, codes):
    found = verdict(step, check_reading(step, read), PLAN)
    assert [line.code for line in found.lines] == codes
    assert found.well is (
        codes[0] in {"install.timer_agrees", "install.watts_agree", "install.warm_well"}
    )


def test_steps_without_a_reading_have_none_to_judge():
    assert check_reading("cord", {"watts": 5}) == {}
    assert verdict("cord", {}, PLAN) is None
    assert verdict("watts", {"watts": 3}, Planned(0, 0, 0.0)).well


@pytest.mark.parametrize(
    ("step", "read", "field"),
    [
        ("watts", {}, "watts"),
        ("watts", {"watts": -1}, "watts"),
        ("warm", {"sink_c": 40}, "room_c"),
        ("timer", {"on_minute": 1440, "off_minute": 3}, "on_minute"),
    ],
)
def test_readings_that_cannot_be(step, read, field):
    with pytest.raises(CanopyError) as caught:
        check_reading(step, read)
    assert caught.value.field == field
    assert field in READINGS[step]
