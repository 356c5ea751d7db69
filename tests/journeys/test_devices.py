"""A meter is plugged in and seen; the simulated tent reports, is corrected, and ticks a step."""

import json
import urllib.error
import urllib.request
from datetime import timedelta

import pytest
from django.db.models import F
from django.utils import timezone
from playwright.sync_api import expect

from server.accounts.models import Grower
from server.devices import running
from server.devices.models import Device, Series
from server.devices.services.standins import add_stand_ins, speaking_stand_ins
from server.devices.simulated.clock import FastClock
from server.devices.simulated.play import Play
from tests.journeys.conftest import accessible, unclipped

pytestmark = [pytest.mark.journey, pytest.mark.django_db(transaction=True)]


@pytest.fixture
def devices(demo):
    demo.get_by_role("link", name="Space & crop").click()
    demo.get_by_role("link", name="Devices").click()
    return demo


def played(demo, lit=False):
    """The stand-ins of the demo, with what they read in the last two hours sent."""
    grower = Grower.objects.get(is_demo=True)
    run, shelf = running._tent_and_shelf(grower)
    add_stand_ins(grower, run.space, shelf)
    play = Play(run, speaking_stand_ins(grower, False), demo.live)
    play.clock = FastClock(timedelta(hours=2), 1e9)
    if lit:
        # whatever the hour of these tests
        play.tent.set_output_pct[1] = play.tent.channels[0].output_pct
    # nor the weather of the day
    play.tent.heat_waves, play.tent.cuts = [], []
    play.tent.at = timezone.now() - timedelta(hours=2)
    play.turn()
    return play


@pytest.fixture
def play(demo):
    return played(demo)


def test_a_meter_is_added_and_its_first_message_arrives(devices):
    expect(devices.get_by_role("heading", level=1)).to_have_text("Nothing reports yet.")
    devices.get_by_role("button", name="Add a device").click()
    devices.get_by_role("button", name="Add it").click()
    expect(
        devices.get_by_text("Its name is empty").or_(devices.get_by_text("Name is empty"))
    ).to_be_visible()
    devices.get_by_label("Its name").fill("Lamp plug")
    devices.get_by_role("button", name="Add it").click()
    card = devices.get_by_role("region", name="The token of Lamp plug")
    expect(card.get_by_role("status")).to_contain_text("Waiting for its first message")
    accessible(devices)
    token = card.locator("code").inner_text()
    assert token in card.locator("pre").inner_text()
    now = timezone.now()

    def send(known, unit):
        message = {
            "id": known,
            "at": now.isoformat(),
            "quantity": "power",
            "unit": unit,
            "value": 61,
        }
        request = urllib.request.Request(
            f"{devices.live}/api/door",
            json.dumps(message).encode(),
            {"Authorization": f"Bearer {token}"},
        )
        try:
            return urllib.request.urlopen(request).status
        except urllib.error.HTTPError as error:
            return error.code

    assert send("1", "kW") == 422
    expect(card.get_by_role("status")).to_contain_text('unit of power should be "W"')
    assert send("2", "W") == 200
    expect(card.get_by_role("status")).to_contain_text("Arrived: 61 W")
    card.get_by_role("button", name="I have kept it").click()
    plug = devices.get_by_role("region", name="Lamp plug")
    expect(plug.get_by_role("button", name="Watts")).to_contain_text("61 W")
    devices.reload()
    expect(plug).to_be_visible()
    # the token is nowhere any more
    assert token not in devices.content()
    plug.get_by_role("button", name="Pause: Lamp plug").click()
    expect(plug).to_contain_text("paused")
    assert send("3", "W") == 422
    plug.get_by_role("button", name="Take in again: Lamp plug").click()
    plug.get_by_role("button", name="Change: Lamp plug").click()
    plug.get_by_role("button", name="Revoke the token: Lamp plug").click()
    expect(plug).to_contain_text("No door is open to it")
    assert send("4", "W") == 401
    plug.get_by_role("button", name="Put away: Lamp plug").click()
    expect(devices.get_by_role("heading", level=1)).to_have_text("Nothing reports yet.")
    devices.get_by_role("button", name="Undo").click()
    expect(plug).to_be_visible()


def test_the_simulated_tent_reports_and_takes_the_plans_times(devices, play):
    expect(devices.get_by_role("heading", level=1)).to_contain_text("All 4 devices report")
    timer = devices.get_by_role("region", name="Timer and dimmer")
    expect(timer).to_contain_text("it comes on at 05:00, the plan says 06:00")
    expect(devices.get_by_role("region", name="Today, measured")).to_contain_text("planned")
    accessible(devices)
    devices.set_viewport_size({"width": 390, "height": 844})
    unclipped(devices)
    timer.get_by_role("button", name="Send it the plan's times").click()
    expect(timer.get_by_role("status")).to_contain_text("Waiting until it asks")
    play.turn()
    expect(timer).to_contain_text("has the plan's times")
    expect(timer.get_by_role("button", name="Send it the plan's times")).to_have_count(0)
    thermometer = devices.get_by_role("region", name="Thermometer")
    thermometer.get_by_role("button", name="Humidity").click()
    thermometer.get_by_role("button", name="3 hours").click()
    expect(thermometer.get_by_role("img", name="Humidity since")).to_be_visible()


def test_what_a_meter_reads_ticks_a_step_of_the_install(demo):
    played(demo, lit=True)
    demo.goto(f"{demo.live}/install")
    step = demo.get_by_role("region", name="11. First watts")
    step.get_by_role("button", name="from Socket meter").click()
    expect(step).to_contain_text("read by Socket meter")
    timer = demo.get_by_role("region", name="9. Set the timer")
    timer.get_by_role("button", name="Take 05:00").click()
    expect(timer).to_contain_text("It comes on at 05:00, the plan says 06:00")


def test_a_silent_device_is_seen_from_every_place(demo, play):
    Device.objects.update(heard_at=timezone.now() - timedelta(hours=3))
    Series.objects.update(last_at=F("last_at") - 3 * 3_600_000)
    demo.goto(f"{demo.live}/season")
    strip = demo.get_by_role("region", name="Your plan")
    expect(strip.get_by_role("status")).to_contain_text("has said nothing for 3 h")
    strip.get_by_role("status").get_by_role("link").click()
    expect(demo.get_by_role("heading", level=1)).to_contain_text("0 of 4 devices reported")
    accessible(demo)
