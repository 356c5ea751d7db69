"""Install over the API: steps, ticks with readings, and what stays in sight."""

import pytest

from server.power.models import InstallTick
from server.runs.demo import BOX_ROOM, CIRCUIT, MOUNT
from tests.server.conftest import fields, said


@pytest.fixture
def to(run):
    return f"runs/{run['id']}/install"


def step(install, name):
    return next(each for each in install["steps"] if each["name"] == name)


def test_cords_are_tied_before_plants_come_and_the_marks_are_this_tents(grower, to):
    found = grower("get", to)[1]
    names = [each["name"] for each in found["steps"]]
    assert names.index("cord") < names.index("plants") == len(names) - 1
    assert names.index("glasses") < names.index("light")
    marks = found["hanging"]["lamps"][0]["marks_cm"]
    assert len(marks) == 4
    # as far from the left as from the right, and so from front and back
    assert sum(x for x, _ in marks) == pytest.approx(4 * BOX_ROOM["width_cm"] / 2)
    assert sum(y for _, y in marks) == pytest.approx(4 * BOX_ROOM["depth_cm"] / 2)
    spoken = said(step(found, "marks")["lines"])
    assert spoken[0] == "Lamp 1 hangs on 4."
    assert spoken[1].startswith("Lamp 1: a hanger 25.7 cm from the left wall")
    assert "circuit.well" not in [each["code"] for each in step(found, "circuit")["lines"]]


def test_timer_watts_and_warmth_are_held_against_the_plan(grower, run, to):
    found = grower("get", to)[1]
    channel = found["channels"][0]
    wrong = {"on_minute": (channel["on_minute"] + 60) % 1440, "off_minute": channel["off_minute"]}
    read = grower("put", f"{to}/timer", wrong)[1]
    verdict = step(read, "timer")["verdict"]
    assert (verdict["well"], verdict["lines"][0]["code"]) == (False, "install.timer_on")
    assert "the plan says 06:00" in said(verdict["lines"])[0]
    right = {name: channel[name] for name in ("on_minute", "off_minute")}
    assert step(grower("put", f"{to}/timer", right)[1], "timer")["verdict"]["well"]
    season = grower("get", f"runs/{run['id']}/season")[1]
    watts = season["rows"][0]["watts"]
    assert step(grower("put", f"{to}/watts", {"watts": watts})[1], "watts")["verdict"]["well"]
    doubled = grower("put", f"{to}/watts", {"watts": 2 * watts})[1]
    assert not step(doubled, "watts")["verdict"]["well"]
    # 232 V and 4.25 A, as on the check beside the sums (common practice): the meter's own figures
    whole = {"watts": watts, "volts": 232, "amps": watts / 232 / 0.986}
    lines = step(grower("put", f"{to}/watts", whole)[1], "watts")["verdict"]["lines"]
    assert "a power factor of 0.99" in said(lines)[1]
    assert grower("put", f"{to}/watts", {**whole, "amps": 0.01})[0] == 422
    # nothing is written over
    assert InstallTick.objects.filter(step="watts").count() == 3


def test_a_second_channel_is_typed_back_too(grower, run, to):
    assert step(grower("get", to)[1], "timer")["asks"] == ["on_minute", "off_minute"]
    stages = [each["id"] for each in grower.named("crops", "Potted chrysanthemums")["stages"]]
    six = grower.named("fixtures", "Wickerlight Six")["id"]
    strip = grower.named("fixtures", "Sill Strip 30")["id"]
    lamp = {"fixture_id": six, "x_cm": 60, "y_cm": 45, "turn_deg": 0}
    other = {**lamp, "fixture_id": strip, "group": 1}
    grower("put", f"runs/{run['id']}/lamps", {"lamps": [lamp, other]})
    group = {"dial_pct": 100, "windows": [{"on_minute": 300, "hours": 2}]}
    grower("put", f"runs/{run['id']}/stages/{stages[0]}/groups/1", group)
    found = grower("get", to)[1]
    first, second = found["channels"]
    assert (second["on_minute"], second["off_minute"], second["group"]) == (300, 420, 1)
    assert len(step(found, "timer")["asks"]) == 4
    read = {"on_minute": first["on_minute"], "off_minute": first["off_minute"]}
    read |= {"second_on_minute": 360, "second_off_minute": 420}
    lines = step(grower("put", f"{to}/timer", read)[1], "timer")["verdict"]["lines"]
    assert [line["code"] for line in lines] == ["install.second_on"]


def test_what_is_not_done_for_safety_stays_in_sight(grower, run, to):
    assert grower("get", "runs/installs/left") == (200, [])
    grower("put", f"{to}/marks", {})
    left = grower("get", "runs/installs/left")[1]
    assert left == [{"run_id": run["id"], "steps": grower("get", to)[1]["left"]}]
    for name in left[0]["steps"]:
        reading = {"sink_c": 45, "room_c": 21} if name == "warm" else {}
        status, found = grower("put", f"{to}/{name}", reading)
        assert status == 200, found
    assert grower("get", "runs/installs/left") == (200, [])
    back = grower("delete", f"{to}/cord")[1]
    assert back["left"] == ["cord"]
    assert step(back, "cord")["done_at"] is None
    # twice is once
    before = InstallTick.objects.count()
    grower("delete", f"{to}/cord")
    grower("put", f"{to}/marks", {})
    assert InstallTick.objects.count() == before


def test_a_begun_run_shows_what_was_skipped(grower, run):
    grower("put", f"runs/{run['id']}/begin", {})
    assert grower("get", "runs/installs/left")[1][0]["run_id"] == run["id"]
    grower("put", f"runs/{run['id']}/end", {})
    assert grower("get", "runs/installs/left")[1] == []


def test_the_circuit_and_the_frame_speak_in_the_steps(grower, run, to):
    made = grower("post", "spaces/circuits", {**CIRCUIT, "timer_a": 0.5})[1]
    body = {"circuit_id": made["id"], "mount": {**MOUNT, "rating_kg": 5}, "air": {"fan_m3_h": 100}}
    grower("put", f"spaces/{run['space_id']}/power", body)
    found = grower("get", to)[1]
    assert step(found, "circuit")["lines"][0]["code"] == "circuit.timer"
    assert "heavy.over" in [each["code"] for each in step(found, "frame")["lines"]]
    assert "install.tent" in [each["code"] for each in step(found, "warm")["lines"]]


@pytest.mark.parametrize(
    ("name", "body", "status", "field"),
    [
        ("watts", {}, 422, "watts"),
        ("warm", {"sink_c": 400, "room_c": 20}, 422, "sink_c"),
        ("timer", {"on_minute": 300}, 422, "off_minute"),
        ("dance", {}, 422, None),
        ("cord", {"mood": 3}, 422, None),
    ],
)
def test_steps_and_readings_that_cannot_be(grower, to, name, body, status, field):
    found, problem = grower("put", f"{to}/{name}", body)
    assert found == status
    if field:
        assert fields(problem) == [field]
    assert not InstallTick.objects.exists()


def test_a_plan_of_which_nothing_can_be_says_so(grower, run, to):
    grower("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "height_cm": 45.0, "pot_cm": 30})
    assert grower("get", to)[0] == 422
