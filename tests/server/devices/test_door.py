"""The HTTP door: tokens, what is taken, doubled, refused, and how much at once."""

import re
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
import time_machine
from django.test import Client
from django.utils import timezone

from server.common.allowance import MESSAGES, REQUESTS, Allowance
from server.devices.models import Device, MessageId, Reading, Series
from tests.server.devices.conftest import added, message

DOC = (Path(__file__).parents[3] / "docs/formats/device.md").read_text(encoding="utf-8")


def shown(grower, device_id):
    return next(row for row in grower("get", "devices")[1] if row["id"] == device_id)


def test_a_reading_arrives_and_is_shown(grower, plug):
    status, taken = plug(message(1))
    assert (status, taken) == (200, {"taken": 1, "doubled": 0, "refused": [], "ignored": []})
    device = shown(grower, plug.id)
    assert device["series"][0] | {"at": None} == {
        "quantity": "power",
        "channel": 1,
        "unit": "W",
        "at": None,
        "value": 146.2,
    }
    assert (device["taken"], device["refused"]) == (1, 0)
    assert plug(message(1))[1]["doubled"] == 1
    status, mixed = plug(message(1), message(2, unit="kW"), message(3, battery=4))
    assert (status, mixed["taken"], mixed["doubled"]) == (200, 1, 1)
    assert [(one["index"], one["reason"]) for one in mixed["refused"]] == [(1, "unit")]
    assert mixed["ignored"] == ["battery"]


def test_what_is_refused_is_counted_and_says_why(grower, plug):
    late = timezone.now() - timedelta(days=31)
    status, problem = plug(message(1, at=late))
    assert status == 422
    assert "30 days" in problem["detail"]
    assert plug(message(2, at=timezone.now() + timedelta(minutes=6)))[0] == 422
    assert plug(message(3, value=-3))[0] == 422
    assert plug(raw=b"\xff{")[0] == 422
    assert plug(raw=b"")[0] == 422
    assert plug(raw="[]")[0] == 200
    device = shown(grower, plug.id)
    reasons = {row["reason"]: row["count"] for row in device["refusals"]}
    assert reasons == {"late": 1, "ahead": 1, "range": 1, "unreadable": 2}
    assert (device["refused"], device["taken"]) == (5, 0)
    assert not Reading.objects.exists()
    # what was refused may be sent again mended
    assert plug(message(3, value=3))[1]["taken"] == 1


def test_the_documented_lines_work_as_printed(grower, space, plug):
    lines = re.findall(r"^(?:\{|\[\{).*[}\]]$", DOC, re.M)
    with time_machine.travel(datetime(2026, 11, 25, 19, 1, tzinfo=UTC), tick=False):
        for line in lines:
            if '"set"' not in line:
                assert plug(raw=line)[0] == 200, line
    curl = re.search(r"^curl .*$", DOC, re.M)[0]
    sent = re.search(r"-d '(.*?)'", curl)[1]
    with time_machine.travel(datetime(2026, 11, 25, 18, 1, tzinfo=UTC), tick=False):
        # curl names another kind of content when nothing is said
        reply = plug.client.post(
            "/api/door", sent, "application/x-www-form-urlencoded", **plug.headers()
        )
    assert (reply.status_code, reply.json()["doubled"]) == (200, 1)
    assert shown(grower, plug.id)["schedule"][0]["on"] == "06:00"


def test_tokens_cannot_be_read_back_guessed_or_used_once_revoked(grower, plug):
    told = str(grower("get", "devices"))
    assert plug.token not in told
    assert Device.objects.get().token_hash not in told
    assert plug.token not in str(list(Device.objects.values()))
    for wrong in ("", "x", plug.token[:-1], plug.token + "a", plug.token.swapcase(), "\x00"):
        reply = Client().post(
            "/api/door", "{}", "application/json", HTTP_AUTHORIZATION=f"Bearer {wrong}"
        )
        assert reply.status_code == 401
        assert "token" in reply.json()["detail"]
    assert Client().get("/api/door").status_code == 401
    old = plug.token
    status, made = grower("put", f"devices/{plug.id}/token")
    assert status == 200
    assert plug(message(1))[0] == 401
    plug.token = made["token"]
    assert plug(message(1))[0] == 200
    assert made["token"] != old
    assert not grower("delete", f"devices/{plug.id}/token")[1]["has_token"]
    assert plug(message(2))[0] == 401
    assert plug.ask()[0] == 401


def test_a_device_put_away_or_paused_is_not_heard(grower, plug):
    assert grower("put", f"devices/{plug.id}/paused", {"paused": True})[1]["paused"]
    status, problem = plug(message(1))
    assert status == 422
    assert "paused" in problem["detail"]
    grower("put", f"devices/{plug.id}/paused", {"paused": False})
    assert plug(message(1))[0] == 200
    grower("put", f"devices/{plug.id}/aside", {"removed": True})
    assert plug(message(2))[0] == 401
    # brought back it has its readings, and no token
    back = grower("put", f"devices/{plug.id}/aside", {"removed": False})[1]
    assert (back["has_token"], back["taken"]) == (False, 1)


def test_two_devices_may_use_the_same_ids_and_never_each_others_series(grower, space, plug):
    other = added(grower, space, name="Other")
    assert plug(message(1))[0] == other(message(1, value=9))[0] == 200
    assert Series.objects.count() == MessageId.objects.count() == 2
    assert shown(grower, plug.id)["series"][0]["value"] == 146.2


def test_strangers_see_and_touch_nothing(stranger, plug, space):
    plug(message(1))
    assert stranger("get", "devices") == (200, [])
    for method, path, body in (
        ("put", "", {"name": "x", "kind": "meter", "space_id": space["id"]}),
        ("put", "/paused", {"paused": True}),
        ("put", "/aside", {"removed": True}),
        ("put", "/token", None),
        ("delete", "/token", None),
        ("get", "/curve?quantity=power", None),
        ("get", "/commands", None),
        ("post", "/setting", {"quantity": "switch", "value": 0}),
        ("post", "/schedule?run_id=1", None),
    ):
        assert stranger(method, f"devices/{plug.id}{path}", body)[0] == 404, path
    assert (
        stranger("post", "devices", {"name": "x", "kind": "meter", "space_id": space["id"]})[0]
        == 422
    )
    assert plug(message(2))[0] == 200


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"space_id": None}, "space_id"),
        ({"space_id": 999_999}, "space_id"),
        ({"circuit_id": 1}, "circuit_id"),
        ({"kind": "toaster"}, "kind"),
        ({"name": " "}, "name"),
    ],
)
def test_devices_that_cannot_be(grower, space, changes, field):
    body = {"name": "Plug", "kind": "meter", "space_id": space["id"]} | changes
    status, problem = grower("post", "devices", body)
    assert status == 422
    assert field in [error["field"] for error in problem["errors"]]


def test_a_device_belongs_to_a_lamp_or_a_circuit_too(grower, space):
    lamp = grower.named("fixtures", "Wickerlight Six")["id"]
    other = grower.named("fixtures", "Sill Strip 30")["id"]
    piece = grower("post", f"fixtures/{lamp}/pieces", {"name": "The old one"})[1]
    piece_id = piece["pieces"][0]["id"] if "pieces" in piece else piece["id"]
    body = {"name": "Plug", "kind": "meter", "fixture_id": lamp, "piece_id": piece_id}
    made = grower("post", "devices", body)[1]["device"]
    assert (made["fixture_id"], made["piece_id"], made["space_id"]) == (lamp, piece_id, None)
    wrong = grower("put", f"devices/{made['id']}", {**body, "fixture_id": other})
    assert wrong[1]["errors"][0]["field"] == "piece_id"
    both = grower("post", "devices", {**body, "space_id": space["id"]})
    assert both[0] == 422
    moved = {"name": "Plug", "kind": "meter", "space_id": space["id"]}
    assert grower("put", f"devices/{made['id']}", moved)[1]["fixture_id"] is None


def test_so_many_and_no_more(grower, space, plug, monkeypatch):
    monkeypatch.setattr("server.devices.services.managing.MOST_DEVICES", 1)
    assert (
        grower("post", "devices", {"name": "x", "kind": "meter", "space_id": space["id"]})[0] == 422
    )
    assert plug(raw=b"[" + b" " * 300_000 + b"]")[0] == 413
    assert plug(*[message(k) for k in range(501)])[0] == 422
    while not REQUESTS.wait_s(plug.id):
        pass
    status, problem = plug(message(1))
    assert (status, problem["title"]) == (429, "Too often")
    REQUESTS._buckets.clear()
    while not MESSAGES.wait_s(plug.id, 500):
        pass
    assert plug(*[message(k) for k in range(500)])[0] == 429


def test_an_allowance_fills_with_time():
    now = [0.0]
    allowance = Allowance(2, 4, clock=lambda: now[0])
    assert [allowance.wait_s("a") for _ in range(5)] == [0, 0, 0, 0, 0.5]
    assert allowance.wait_s("b", 4) == 0
    now[0] = 0.5
    assert allowance.wait_s("a") == 0
    assert allowance.wait_s("a") == 0.5
    now[0] = 100
    # no more than the reserve
    assert allowance.wait_s("a", 5) == 0.5


def test_an_unread_message_over_and_over_is_bounded(grower, plug):
    for k in range(40):
        with time_machine.travel(timezone.now() + timedelta(days=k)):
            plug(raw="{")
    assert len(shown(grower, plug.id)["refusals"]) == 16


def test_a_door_with_a_session_is_no_sign_in(grower, plug, settings):
    """A device that speaks to a demo from its own machine opens no session."""
    settings.DEMO = True
    reply = plug.client.post("/api/door", "[]", "application/json", **plug.headers())
    assert reply.status_code == 200
    assert "sessionid" not in reply.cookies
