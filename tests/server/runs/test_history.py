"""Settings: appended with their moment and kind, never changed; the latest counts."""

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest

from tests.server.conftest import fields
from tests.server.sent import LEVERS

KEPT = {**LEVERS, "on_minute": 300}


@pytest.fixture
def to(run):
    return f"runs/{run['id']}"


@pytest.fixture
def stage(run):
    return run["stage_id"]


def keyed(grower, method, path, body, key):
    send = getattr(grower.client, method)
    reply = send(
        f"/api/{path}", body, content_type="application/json", headers={"Idempotency-Key": str(key)}
    )
    return reply.status_code, reply.json() if reply.content else None


def test_levers_kept_again_leave_the_first_ones_in_the_history(grower, to, stage):
    path = f"{to}/stages/{stage}"
    for dial in (50, 60):
        assert grower("put", f"{path}/setting", {**KEPT, "dial_pct": dial})[0] == 200
    # the same again is nothing new
    grower("put", f"{path}/setting", {**KEPT, "dial_pct": 60})
    rows = grower("get", f"{to}/settings")[1]
    assert [row["dial_pct"] for row in rows] == [60, 50]
    assert {(row["kind"], row["plan_number"], row["holds_from"]) for row in rows} == {
        ("planned", 1, None)
    }
    assert rows[0]["windows"] == [{"on_minute": 300, "hours": 11}]
    assert grower("get", f"{path}/bench")[1]["on_minute"] == 300
    # let go the plan chooses again, and that is in the history too
    assert grower("delete", f"{path}/setting")[0] == 204
    assert grower("delete", f"{path}/setting")[0] == 204
    assert not grower("get", f"{path}/bench")[1]["kept"]
    assert [row["freed"] for row in grower("get", f"{to}/settings")[1]] == [True, False, False]


def test_sent_twice_with_one_key_it_is_kept_once(grower, to, stage):
    path, key = f"{to}/stages/{stage}/setting", uuid4()
    assert keyed(grower, "put", path, KEPT, key)[0] == 200
    grower("put", path, {**KEPT, "dial_pct": 60})
    # the phone did not hear the answer and sends it again: what came after it stands
    keyed(grower, "put", path, KEPT, key)
    assert [row["dial_pct"] for row in grower("get", f"{to}/settings")[1]] == [60, 50]
    assert grower("get", f"{to}/stages/{stage}/bench")[1]["setting"]["dial_pct"] == 60
    assert keyed(grower, "put", path, KEPT, "not a key")[0] == 422


def test_what_was_really_set_and_measured_has_its_moment(grower, to, stage):
    log = {
        "stage_id": stage,
        "kind": "set",
        "windows": [{"on_minute": 300, "hours": 5}, {"on_minute": 900, "hours": 6}],
        "dial_pct": 55,
    }
    # only of a run that is lived
    assert grower("post", f"{to}/settings", log)[0] == 422
    grower("put", f"{to}/begin", {"on": "2026-11-20"})
    status, kept = grower("post", f"{to}/settings", log)
    assert (status, kept["windows"]) == (201, log["windows"])
    moment = datetime.fromisoformat(kept["holds_from"])
    assert abs(moment - datetime.now(UTC)) < timedelta(minutes=1)
    earlier = "2026-11-20T08:00:00+01:00"
    measured = {**log, "kind": "measured", "dial_pct": None, "watts": 146, "holds_from": earlier}
    kept = grower("post", f"{to}/settings", measured)[1]
    assert datetime.fromisoformat(kept["holds_from"]) == datetime.fromisoformat(earlier)
    # a second level, group and channel stand on their own
    other = grower("post", f"{to}/settings", {**log, "level": 1, "group": 2, "channel": 1})[1]
    assert (other["level"], other["group"], other["channel"]) == (1, 2, 1)
    # what was planned is not touched by any of it
    assert not grower("get", f"{to}/stages/{stage}/bench")[1]["kept"]
    assert len(grower("get", f"{to}/settings?kind=done")[1]) == 3
    assert len(grower("get", f"{to}/settings?kind=done&most=1")[1]) == 1
    assert grower("get", f"{to}/settings?most=-5")[0] == 422


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"holds_from": "2199-01-01T00:00:00Z"}, "holds_from"),
        ({"holds_from": "2001-01-01T00:00:00Z"}, "holds_from"),
        ({"holds_from": "2026-11-20T08:00:00"}, "holds_from"),
        ({"holds_from": "at noon"}, "holds_from"),
        ({"windows": [{"on_minute": 0, "hours": 13}, {"on_minute": 800, "hours": 12}]}, "windows"),
        ({"dial_pct": None}, "dial_pct"),
        ({"kind": "planned"}, "kind"),
        ({"windows": []}, "windows"),
        ({"windows": [{"on_minute": 1440, "hours": 1}]}, "windows.0.on_minute"),
        ({"windows": [{"on_minute": 0, "hours": 0}]}, "windows.0.hours"),
        ({"watts": -1}, "watts"),
    ],
)
def test_settings_that_cannot_be(grower, to, stage, change, field):
    grower("put", f"{to}/begin", {})
    log = {"stage_id": stage, "kind": "set", "windows": [{"on_minute": 0, "hours": 24}]}
    status, problem = grower("post", f"{to}/settings", {**log, "dial_pct": 50, **change})
    assert (status, fields(problem)) == (422, [field])
    assert problem["errors"][0]["sentence"].endswith(".")
    assert grower("get", f"{to}/settings")[1] == []


def test_of_a_run_that_has_ended_nothing_is_planned_any_more(grower, to, stage):
    grower("put", f"{to}/stages/{stage}/setting", KEPT)
    grower("put", f"{to}/begin", {})
    grower("put", f"{to}/end", {})
    assert grower("put", f"{to}/stages/{stage}/setting", {**KEPT, "dial_pct": 90})[0] == 422
    assert grower("delete", f"{to}/stages/{stage}/setting")[0] == 422
    assert len(grower("get", f"{to}/settings")[1]) == 1


def test_looking_at_a_stage_is_no_matter_of_the_servers(grower, run, to):
    other = grower.named("crops", "Potted chrysanthemums")["stages"][0]["id"]
    grower("put", f"{to}/stages/{other}/setting", KEPT)
    assert grower("get", "runs")[1][0]["stage_id"] == run["stage_id"]


def test_another_crop_tried_and_put_back_leaves_the_settings(grower, run, to, stage):
    from tests.server.sent import run_body  # noqa: PLC0415

    grower("put", f"{to}/stages/{stage}/setting", KEPT)
    grower("put", to, run_body(run, crop_id=grower.named("crops", "Lettuce")["id"]))
    assert not any(
        row["planned"]["kept"]
        for row in grower("get", f"{to}/season")[1]["stages"]
        if row["planned"]
    )
    grower("put", to, run_body(run))
    assert grower("get", f"{to}/stages/{stage}/bench")[1]["kept"]
