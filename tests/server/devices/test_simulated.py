"""The stand-ins: a tent that behaves, a clock that catches up, both doors used like any device."""

import random
import time
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

import pytest
from django.utils import timezone

from server.accounts.models import Grower
from server.devices import running
from server.devices.adapters.planned import planned_day
from server.devices.adapters.simulated import light_in_hand
from server.devices.broker import Address
from server.devices.models import Command, Device, Reading, Series
from server.devices.services.keeping import sum_up
from server.devices.services.managing import pause, revoke, tell
from server.devices.services.standins import add_stand_ins, speaking_stand_ins
from server.devices.services.watching import send_plan, watch
from server.devices.simulated import standins
from server.devices.simulated.clock import FastClock
from server.devices.simulated.hand import HELD_S, Hand, Hands
from server.devices.simulated.play import Play
from server.devices.simulated.tent import OFF_ABOVE_C, Channel, Lamp, Tent, Truth
from server.runs.adapters.standing import kept_of, standing_of
from server.runs.demo import make_demo
from tests.server.devices.mosquitto import becomes, broker, needed
from tests.server.devices.test_broker import connected

DAWN = datetime(2026, 11, 26, 5, 0, tzinfo=UTC)
LAMP = Lamp(240.0, [(10, 0.09, 0.11), (50, 0.44, 0.48), (100, 1, 1)], 900.0)


def tent(*channels, **more):
    made = Tent(LAMP, ZoneInfo("UTC"), channels=list(channels), **more)
    made.step(DAWN)
    return made


def after(made, **time):
    made.step(made.at + timedelta(**time))
    return made


def test_a_channel_keeps_its_hours_and_ramps_over_midnight_too():
    day = Channel(1, 360, 1080, ramp_min=30, output_pct=60)
    assert [day.output_at(m) for m in (359, 360, 375, 390, 720, 1065, 1080)] == [
        0, 0, 30, 60, 60, 30, 0,
    ]  # fmt: skip
    night = Channel(1, 1200, 480)
    assert [night.output_at(m) for m in (1199, 1200, 0, 479, 480)] == [0, 100, 100, 100, 0]
    assert Channel(1, 300, 300, ramp_min=15).output_at(300) == 100


def test_the_lamp_draws_by_its_dial_and_nothing_when_off():
    assert LAMP.shares(0) == (0, 0)
    assert LAMP.shares(30) == (pytest.approx(0.265), pytest.approx(0.295))
    assert LAMP.shares(5) == (pytest.approx(0.045), pytest.approx(0.055))
    made = tent(Channel(1, 360, 1080, output_pct=50))
    assert made.read_watts() < 3
    assert after(made, hours=2).read_watts() == pytest.approx(240 * 0.44 * 1.02, abs=2)
    # energy is that of the watts over the hours since six
    assert made.kwh == pytest.approx(240 * 0.44 * 1.02 / 1000, rel=0.02)
    assert made.read_ppfd() == pytest.approx(900 * 0.48 * 1.03, rel=0.05)


def test_heat_switches_it_off_and_on_again():
    wave = (DAWN + timedelta(hours=3), DAWN + timedelta(hours=4), 15.0)
    made = tent(Channel(1, 360, 1080), heat_waves=[wave])
    seen = [(after(made, minutes=1).celsius, made.output(1)) for _ in range(420)]
    lit = [output > 0 for _, output in seen]
    assert lit[61]
    assert not all(lit[62:])
    assert lit[-1]
    first = lit.index(False, 62)
    # only then, and not for ever
    assert seen[first][0] > OFF_ABOVE_C
    assert max(celsius for celsius, _ in seen[:first]) <= OFF_ABOVE_C
    # the other channel is no lamp: it goes on
    made.hot, made.channels = True, [Channel(2, 0, 0)]
    assert made.output(2) == 100


def test_a_power_cut_silences_everything_and_its_schedule_lives_on():
    cut = (DAWN + timedelta(hours=2), DAWN + timedelta(hours=2, minutes=10))
    made = tent(Channel(1, 360, 1080), cuts=[cut])
    told = []

    class Kept:
        def send(self, messages):
            told.extend(messages)
            return True

    meter = standins.StandIn("Meter", Kept(), standins.meter)
    standins.live(made, [meter], DAWN + timedelta(hours=3))
    meter.post()
    at = [datetime.fromisoformat(m["at"]) for m in told if m["quantity"] == "power"]
    gaps = [b - a for a, b in pairwise(at)]
    assert max(gaps) == timedelta(minutes=10, seconds=10)
    assert sorted(gaps)[-2] == timedelta(seconds=10)
    assert told[-4]["value"] > 200
    # every id is its own
    assert len({m["id"] for m in told}) == len(told)


def test_what_cannot_be_sent_waits_but_not_for_ever():
    made = tent()

    class Away:
        def send(self, messages):
            return False

    meter = standins.StandIn("Meter", Away(), standins.meter)
    standins.live(made, [meter], DAWN + timedelta(hours=20))
    assert not meter.post()
    assert len(meter.waiting) == standins.MOST_KEPT


def test_a_fast_clock_catches_up_and_is_never_ahead():
    now = [DAWN, 0.0]
    clock = FastClock(timedelta(hours=1), 60, lambda: now[0], lambda: now[1])
    assert clock.time() == DAWN - timedelta(hours=1)
    now[:] = DAWN + timedelta(seconds=30), 30.0
    assert clock.time() == DAWN - timedelta(minutes=30)
    now[:] = DAWN + timedelta(seconds=90), 90.0
    assert clock.time() == DAWN + timedelta(seconds=90)


pytest_django_db = pytest.mark.django_db(transaction=True)


def played(base, address=None, ago=timedelta(hours=3)):
    """The demo's stand-ins after a turn in which they catch up."""
    grower = make_demo()
    run, shelf = running._tent_and_shelf(grower)
    add_stand_ins(grower, run.space, shelf)
    play = Play(run, speaking_stand_ins(grower, address is not None), base, address)
    play.tent.heat_waves, play.tent.cuts = [], []
    play.clock = FastClock(ago, 1e9)
    play.tent.at = timezone.now() - ago
    return grower, run, play


@pytest_django_db
def test_the_stand_ins_report_by_themselves_over_http(live_server):
    grower, run, play = played(live_server.url)
    play.turn()
    devices = {each.kind: each for each in Device.objects.of(grower)}
    assert set(devices) == {"meter", "controller", "thermometer", "light", "prices"}
    assert all(each.refused == 0 for each in devices.values())
    assert Series.objects.count() == 11
    newest = max(Series.objects.values_list("last_at", flat=True))
    assert timezone.now().timestamp() - newest / 1000 < 60
    # its timer was set an hour early; told the plan's times it keeps them and says so
    found = watch(run)
    assert "device.comes_on" in [each.line.code for each in found.findings]
    send_plan(devices["controller"], run)
    play.turn()
    assert Command.objects.get().done_at is not None
    assert "device.schedule_well" in [each.line.code for each in watch(run).findings]
    tell(devices["controller"], {"command": "set", "quantity": "output", "value": 33.0})
    play.turn()
    assert play.tent.output(1) == 33
    play.send_prices()
    shelf = devices["prices"].space
    kept = shelf.price_files.order_by("id").last()
    assert len(kept.per_kwh) in (71, 72, 73)
    sum_up()


@pytest_django_db
def test_what_the_grower_takes_away_stays_away(live_server):
    grower, run, play = played(live_server.url)
    names = {each.kind: each for each in Device.objects.of(grower)}
    revoke(names["light"])
    pause(names["thermometer"], True)
    add_stand_ins(grower, run.space, None)
    assert Device.objects.of(grower).count() == 5
    speaking = speaking_stand_ins(grower, False)
    assert {device.kind for device, _ in speaking} == {
        "meter",
        "controller",
        "thermometer",
        "prices",
    }
    play = Play(run, speaking, live_server.url, None, FastClock(timedelta(minutes=2), 1e9))
    play.tent.cuts = []
    play.tent.at = timezone.now() - timedelta(minutes=2)
    play.turn()
    assert not Series.objects.filter(device__in=[names["light"], names["thermometer"]]).exists()
    assert Device.objects.get(pk=names["thermometer"].pk).refused > 0
    # begun again it goes on where it was last heard
    rows = list(Device.objects.of(grower).prefetch_related("series"))
    again = Play(run, [(row, "x") for row in rows], live_server.url)
    assert timezone.now() - again.clock.time() < timedelta(minutes=2)


@needed
@pytest_django_db
def test_given_a_broker_they_speak_mqtt(tmp_path, live_server):
    make_demo()
    grower = Grower.objects.get(is_demo=True)
    with broker(tmp_path) as port:
        address = Address("127.0.0.1", port)
        with connected(address, grower) as ours:
            assert becomes(lambda: ours.connected)
            _, run, play = played("http://127.0.0.1:1", address, timedelta(minutes=5))
            senders = [each.sender for each in play.devices]
            assert becomes(lambda: all(each._client.is_connected() for each in senders))
            play.turn()
            assert becomes(lambda: Series.objects.count() == 11 and Reading.objects.count() > 40)
            device = Device.objects.get(kind="controller")
            assert becomes(lambda: Device.objects.get(pk=device.pk).schedule is not None)
            send_plan(device, run)
            assert becomes(lambda: Command.objects.get().given_at is not None)
            assert becomes(lambda: (play.turn(), Command.objects.get().done_at)[1] is not None)
            for each in senders:
                each.close()


def test_every_run_of_the_weather_is_the_same():
    one, other = (tent(Channel(1, 360, 1080), chance=random.Random(3)) for _ in range(2))
    assert [after(one, hours=1).read_celsius() for _ in range(9)] == [
        after(other, hours=1).read_celsius() for _ in range(9)
    ]


def test_a_hand_that_nobody_hears_of_puts_the_sensor_back(monkeypatch):
    hands = Hands()
    hand = Hand(60, 45, 40, None, True)
    assert hands.hold(1, hand) is False
    hands.play(1)
    assert hands.held(1) is None
    assert hands.hold(1, hand) is True
    assert hands.held(1) == hand
    # another tent's hand is its own
    assert hands.held(2) is None
    later = time.monotonic() + HELD_S + 1
    monkeypatch.setattr("server.devices.simulated.hand.time.monotonic", lambda: later)
    assert hands.held(1) is None


@pytest.mark.django_db
def test_the_sensor_that_is_carried_shows_the_hidden_truth_of_its_spot():
    demo_run, _ = running._tent_and_shelf(make_demo())
    standing = standing_of(demo_run)
    planned = planned_day(standing, kept_of(demo_run), demo_run.owner.today())
    truth = Truth()

    def shown(x, y, height=60.0, truth=truth):
        return light_in_hand(standing, planned, truth, Hand(x, y, height, None, True))

    middle, corner = shown(60, 45), shown(8, 8)
    assert corner < 0.8 * middle
    # light falls as the lamp goes up
    assert shown(60, 45, 80.0) < middle
    # the truth is hidden in the light: a sound tent would show more, and evenly
    sound = replace(
        truth,
        light_scale=1.0,
        aged=1.0,
        dead_share=0.0,
        tilt_deg=0.0,
        offset_x_cm=0.0,
        cosine_error=0.0,
        walls=dict.fromkeys(truth.walls, 0.8),
    )
    assert shown(60, 45, truth=sound) > 1.05 * middle
    assert shown(8, 45, truth=sound) == pytest.approx(shown(112, 45, truth=sound), rel=1e-6)
    assert shown(8, 45) != pytest.approx(shown(112, 45), rel=0.005)
    # slanting light is seen too weakly, the more the more it slants
    keen = replace(truth, cosine_error=0.0)
    assert shown(60, 45, truth=keen) == middle
    assert 0.9 < corner / shown(8, 8, truth=keen) < 0.99
