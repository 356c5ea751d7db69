"""What devices say of the plan, and Install's offers from them."""

from datetime import UTC, datetime, timedelta

import pytest
import time_machine

from server.devices.models import Command
from server.power.models import InstallTick
from tests.server.conftest import said
from tests.server.devices.conftest import added, message

NOON = datetime(2026, 11, 26, 12, 0, tzinfo=UTC)


@pytest.fixture
def noon():
    with time_machine.travel(NOON, tick=False):
        yield NOON


@pytest.fixture
def planned(grower, run, noon):
    """What is planned at noon of a day with no device heard of."""
    return watch(grower, run)


def watch(grower, run):
    status, found = grower("get", f"devices/watch?run_id={run['id']}")
    assert status == 200, found
    return found


def minutes(device, quantity, unit, values, until=NOON, **more):
    """A reading a minute, the last of them at a moment."""
    first = until - timedelta(minutes=len(values) - 1)
    sent = [
        message(
            f"{quantity}{until:%H%M}-{k}",
            quantity,
            unit,
            value,
            first + timedelta(minutes=k),
            **more,
        )
        for k, value in enumerate(values)
    ]
    for k in range(0, len(sent), 400):
        assert device(*sent[k : k + 400])[0] == 200


def codes(found):
    return [one["line"]["code"] for one in found["findings"]]


def test_watts_and_energy_are_held_against_the_plan(grower, run, planned, plug):
    assert (planned["watts"], planned["kwh"], planned["findings"]) == (None, None, [])
    assert planned["minute"] == 720
    watts = planned["planned_watts"]
    assert watts > 20
    minutes(plug, "power", "W", [0.3] * 360 + [watts] * 361)
    found = watch(grower, run)
    assert codes(found) == ["device.draws_as_planned"]
    assert (found["watts"], found["watts_by"]) == (pytest.approx(watts), "Plug")
    # on since six: as planned, to within the reading's last minute
    assert found["kwh"] == pytest.approx(found["planned_kwh"], rel=0.02)
    assert found["kwh_hours"] == pytest.approx(12)


@pytest.mark.parametrize(
    ("share", "code"),
    [(0.0, "device.draws_nothing"), (0.6, "device.draws_less"), (1.4, "device.draws_more")],
)
def test_a_lamp_that_draws_something_else_is_warned_of(grower, run, planned, plug, share, code):
    minutes(plug, "power", "W", [planned["planned_watts"] * share] * 20)
    found = watch(grower, run)
    assert codes(found)[0] == code
    assert not found["findings"][0]["well"]
    assert "Plug reads" in said([found["findings"][0]["line"]])[0]


def test_light_in_the_dark_is_warned_of(grower, run, planned, plug):
    night = NOON.replace(hour=2)
    with time_machine.travel(night, tick=False):
        minutes(plug, "power", "W", [planned["planned_watts"]] * 20, night)
        assert codes(watch(grower, run)) == ["device.draws_at_night"]


def test_two_lamps_meters_make_the_plans_watts_and_a_circuits_none(grower, run, planned, space):
    lamp = {"space_id": None, "fixture_id": run["fixture_id"]}
    half = planned["planned_watts"] / 2
    for k in (1, 2):
        minutes(added(grower, space, name=f"Plug {k}", **lamp), "power", "W", [half] * 20)
    circuit = grower("post", "spaces/circuits", CIRCUIT)[1]
    place = {"space_id": None, "circuit_id": circuit["id"]}
    body = {"circuit_id": circuit["id"], "mount": {}, "air": {}}
    grower("put", f"spaces/{space['id']}/power", body)
    minutes(added(grower, space, name="Board", **place), "power", "W", [900] * 20)
    found = watch(grower, run)
    assert (found["watts_by"], codes(found)) == ("Plug 1 + Plug 2", ["device.draws_as_planned"])


def test_a_counter_of_energy_alone(grower, run, planned, plug):
    minutes(plug, "energy", "kWh", [7.0 + k / 100 for k in range(61)])
    found = watch(grower, run)
    assert found["kwh"] == pytest.approx(0.6)
    assert found["watts"] is None


def test_off_by_heat_is_counted(grower, run, planned, space, plug):
    watts = planned["planned_watts"]
    minutes(plug, "power", "W", [watts] * 100 + [0] * 30 + [watts] * 50)
    warm = added(grower, space, name="Air", kind="thermometer")
    minutes(warm, "temperature", "C", [27] * 90 + [31 + k / 10 for k in range(12)] + [28] * 78)
    # where nobody said at which heat it goes off nothing is put down to it
    assert watch(grower, run)["off_by_heat_min"] == 0
    added(grower, space, name="Box", kind="controller", off_above_c=31.5)
    found = watch(grower, run)
    assert (found["off_min"], found["off_by_heat_min"], found["celsius"]) == (30, 30, 28)
    assert "device.off_by_heat" in codes(found)


def test_a_schedule_is_read_back_compared_and_sent(grower, run, planned, space):
    box = added(grower, space, name="Box", kind="controller")
    wanted = planned["planned_schedule"]
    window = {**wanted[0], "on": "05:00"}
    assert box({"command": "schedule", "windows": [window]})[1]["taken"] == 1
    found = watch(grower, run)
    spoken = said([one["line"] for one in found["findings"]])
    assert spoken == ["Channel 1: it comes on at 05:00, the plan says 06:00."]
    # nothing is sent before the grower says so
    assert box.ask() == (200, {"commands": []})
    status, sent = grower("post", f"devices/{box.id}/schedule?run_id={run['id']}")
    assert (status, sent["given_at"], sent["body"]["windows"]) == (201, None, wanted)
    asked = box.ask()[1]["commands"]
    assert asked == [{"id": sent["id"], "command": "schedule", "windows": wanted}]
    # given until it is read back
    assert box.ask()[1]["commands"] == asked
    box({"command": "schedule", "windows": asked[0]["windows"]})
    assert box.ask()[1]["commands"] == []
    assert codes(watch(grower, run)) == ["device.schedule_well"]
    told = grower("get", f"devices/{box.id}/commands")[1]
    assert told[0]["done_at"] is not None


def test_a_setting_is_given_until_it_shows_and_the_latest_counts(grower, space, noon):
    box = added(grower, space, name="Box", kind="controller")
    to = f"devices/{box.id}/setting"
    assert grower("post", to, {"quantity": "switch", "value": 0.5})[0] == 422
    assert grower("post", to, {"quantity": "power", "value": 5})[0] == 422
    for value in (40, 55):
        assert grower("post", to, {"quantity": "output", "value": value})[0] == 201
    grower("post", to, {"quantity": "switch", "value": 0, "channel": 2})
    asked = box.ask()[1]["commands"]
    assert [(one["quantity"], one["value"]) for one in asked] == [("output", 55), ("switch", 0)]
    box(message(1, "output", "%", 54.5))
    assert [one["quantity"] for one in box.ask()[1]["commands"]] == ["switch"]
    # a paused device is told nothing
    grower("put", f"devices/{box.id}/paused", {"paused": True})
    assert box.ask()[1]["commands"] == []


def test_sent_twice_with_one_key_is_once(grower, run, space, noon):
    box = added(grower, space, name="Box", kind="controller")
    key = {"HTTP_IDEMPOTENCY_KEY": "0b4e6f3a-9d43-4b6f-9a39-3f4b8f1f2a10"}
    path = f"/api/devices/{box.id}/schedule?run_id={run['id']}"
    made = {grower.client.post(path, **key).json()["id"] for _ in range(2)}
    assert len(made) == Command.objects.count() == 1


def test_devices_that_are_silent_lie_or_have_a_wrong_clock(grower, run, planned, space, plug):
    minutes(plug, "power", "W", [planned["planned_watts"]] * 20)
    air = added(grower, space, name="Air", kind="thermometer")
    minutes(air, "temperature", "C", [22.0] * 50 + [48.0] + [22.0] * 49)
    early = added(grower, space, name="Early", kind="light")
    for k in range(6):
        early(message(k, "ppfd", "umol/m2/s", 300 + k, NOON + timedelta(minutes=4, seconds=k)))
    found = watch(grower, run)
    assert codes(found)[:2] == ["device.leaps_warmer", "device.clock_ahead"]
    spoken = said([one["line"] for one in found["findings"]])
    assert "went by 26 °C at once, 2 times" in spoken[0]
    with time_machine.travel(NOON + timedelta(hours=2), tick=False):
        found = watch(grower, run)
    silent = [one for one in found["findings"] if one["line"]["code"] == "device.silent"]
    assert len(silent) == 3
    assert (found["watts"], found["celsius"]) == (None, None)


def test_a_value_that_never_moves_is_named(grower, run, planned, space):
    air = added(grower, space, name="Air", kind="thermometer")
    minutes(air, "humidity", "%", [55.0] * 700)
    assert codes(watch(grower, run)) == ["device.stuck"]


def test_a_paused_device_says_nothing_and_strangers_see_nothing(
    grower, stranger, run, planned, plug
):
    minutes(plug, "power", "W", [0] * 20)
    grower("put", f"devices/{plug.id}/paused", {"paused": True})
    assert watch(grower, run)["findings"] == []
    assert stranger("get", f"devices/watch?run_id={run['id']}")[0] == 404


def test_devices_offer_their_readings_to_the_steps_of_an_install(grower, run, planned, space, plug):
    to = f"runs/{run['id']}/install"
    for quantity, unit, value in (
        ("power", "W", 61.5),
        ("voltage", "V", 231),
        ("current", "A", 0.28),
    ):
        plug(message(quantity, quantity, unit, value))
    box = added(grower, space, name="Box", kind="controller")
    box({"command": "schedule", "windows": planned["planned_schedule"]})
    steps = {one["name"]: one for one in grower("get", to)[1]["steps"]}
    offer = steps["watts"]["offers"][0]
    assert (offer["by"], offer["readings"]) == ("Plug", {"watts": 61.5, "volts": 231, "amps": 0.28})
    times = steps["timer"]["offers"][0]["readings"]
    assert times["on_minute"] == 360
    done = grower("put", f"{to}/timer", {**times, "by": "Box"})[1]
    timer = next(one for one in done["steps"] if one["name"] == "timer")
    assert (timer["by"], timer["verdict"]["well"]) == ("Box", True)
    # amps that cannot be are left out, and of a dark lamp nothing is offered
    plug(message("bad", "current", "A", 0.0, NOON + timedelta(seconds=1)))
    steps = {one["name"]: one for one in grower("get", to)[1]["steps"]}
    assert steps["watts"]["offers"][0]["readings"] == {"watts": 61.5, "volts": 231}
    plug(message("dark", "power", "W", 0.4, NOON + timedelta(seconds=1)))
    steps = {one["name"]: one for one in grower("get", to)[1]["steps"]}
    assert steps["watts"]["offers"] == []
    assert InstallTick.objects.get().by == "Box"
    # what is older than five minutes is not read just now
    with time_machine.travel(NOON + timedelta(minutes=6), tick=False):
        steps = {one["name"]: one for one in grower("get", to)[1]["steps"]}
    assert steps["watts"]["offers"] == []


PRICES = "# currency: EUR\nfrom,price_per_kwh\n"


def hours(first, *prices):
    return PRICES + "".join(
        f"2026-11-26T{first + k:02d}:00+00:00,{p}\n" for k, p in enumerate(prices)
    )


def test_a_price_feeds_hours_join_those_there_are(grower, space, noon, plug):
    feed = added(grower, space, name="Feed", kind="prices")

    def send(text, sender=feed):
        return sender.client.post("/api/door/prices", text, "text/csv", **sender.headers())

    assert send(hours(0, 0.2, 0.3)).json() == {"hours": 2}
    assert send(hours(1, 0.4, 0.5)).json() == {"hours": 3}
    kept = grower("get", f"spaces/{space['id']}/power")[1]["prices"]
    assert (kept["hours"], kept["lowest"], kept["highest"]) == (3, 0.2, 0.5)
    # the same once more is nothing new
    assert send(hours(1, 0.4, 0.5)).json() == {"hours": 3}
    assert send("nonsense").status_code == 422
    assert send(hours(1, 0.4), plug).status_code == 422
    place = {"name": "Feed", "kind": "prices", "fixture_id": 1}
    assert grower("post", "devices", place)[0] == 422


CIRCUIT = {"name": "Box room", "volts": 230, "breaker_a": 16, "loads": [], "origins": {}}
