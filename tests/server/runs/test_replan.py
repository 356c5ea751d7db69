"""A begun run planned anew: what was lived stays, both plans are seen; it ends with a yield."""

from datetime import timedelta

import pytest
from django.utils import timezone

from server.runs.demo import BOX_ROOM
from server.runs.models import Plan
from tests.server.sent import crop_body


@pytest.fixture
def begun(grower, run):
    on = (timezone.localdate() - timedelta(days=20)).isoformat()
    return grower("put", f"runs/{run['id']}/begin", {"on": on})[1]


@pytest.fixture
def to(begun):
    return f"runs/{begun['id']}"


def season(grower, to, plan=None):
    return grower("get", f"{to}/season" + (f"?plan={plan}" if plan else ""))[1]


def test_by_its_rows_as_they_now_are_from_a_day_on(grower, to, begun):
    first = season(grower, to)
    crop = grower.named("crops", "Potted chrysanthemums")
    stages = [dict(stage) for stage in crop["stages"]]
    stages[0]["dli_high"], stages[2]["days"] = 7, 40
    assert grower("put", f"crops/{crop['id']}", crop_body(crop, stages=stages))[0] == 200
    # nothing of it reaches the run by itself
    assert season(grower, to) == first
    on = (timezone.localdate() - timedelta(days=2)).isoformat()
    status, now = grower("put", f"{to}/plans", {"on": on})
    assert (status, now["id"]) == (200, begun["id"])
    second = season(grower, to)
    # the stage it is in stays as it began; one to come is as it now is
    assert second["stages"][0]["dli_high"] == first["stages"][0]["dli_high"]
    assert (first["stages"][2]["days"], second["stages"][2]["days"]) == (56, 40)
    assert second["first"] == first["first"]
    plans = grower("get", f"{to}/plans")[1]
    assert [(p["number"], p["holds_from"]) for p in plans] == [(1, begun["begun_on"]), (2, on)]
    # and the plan before can still be seen
    assert season(grower, to, 1) == first
    assert grower("get", f"{to}/season?plan=3")[0] == 404


def test_by_another_plan_that_was_tried_beside_it(grower, to, begun):
    copy = grower("post", f"{to}/copy", {"name": "brighter"})[1]
    lamp = grower.named("fixtures", "Tallow Board 200")
    made_of = {k: copy[k] for k in ("space_id", "crop_id")}
    assert grower("put", f"runs/{copy['id']}", {**made_of, "fixture_id": lamp["id"]})[0] == 200
    leafy = season(grower, f"runs/{copy['id']}")["stages"][1]["stage_id"]
    body = {"height_cm": 50, "dial_pct": 40, "hours": 15, "on_minute": 300, "locked": []}
    assert grower("put", f"runs/{copy['id']}/stages/{leafy}/setting", body)[0] == 200
    status, now = grower("put", f"{to}/plans", {"by_id": copy["id"]})
    assert (status, now["fixture_id"]) == (200, lamp["id"])
    planned = next(s for s in season(grower, to)["stages"] if s["stage_id"] == leafy)
    assert planned["planned"]["kept"]
    assert planned["planned"]["setting"]["dial_pct"] == 40
    # what was tried stays a plan of its own
    assert grower("get", f"runs/{copy['id']}/season")[0] == 200
    old = next(s for s in season(grower, to, 1)["stages"] if s["stage_id"] == leafy)
    assert not old["planned"]["kept"]


def test_the_light_of_days_gone_by_is_that_of_the_plan_they_had(grower, to, begun):
    log = f"logbook/{to}"
    at = (timezone.now() - timedelta(days=19)).isoformat()
    setting = {"height_cm": 45, "dial_pct": 60, "hours": 12, "on_minute": 0}
    entry = {"key": "8c4c3a34-5f0f-4f4e-9a3e-1df7b0c2a111", "kind": "setting", "at": at}
    grower("post", f"{log}/entries", {"entries": [{**entry, "values": setting}]})
    before = grower("get", f"{log}/light")[1]["days"]
    copy = grower("post", f"{to}/copy", {"name": "dimmer"})[1]
    weak = grower.named("fixtures", "Wickerlight Four")
    made_of = {k: copy[k] for k in ("space_id", "crop_id")}
    grower("put", f"runs/{copy['id']}", {**made_of, "fixture_id": weak["id"]})
    on = (timezone.localdate() - timedelta(days=5)).isoformat()
    assert grower("put", f"{to}/plans", {"by_id": copy["id"], "on": on})[0] == 200
    after = grower("get", f"{log}/light")[1]["days"]
    assert [d["dli"] for d in after[:15]] == pytest.approx([d["dli"] for d in before[:15]])
    # a lamp of two thirds the light
    assert after[-2]["dli"] < 0.8 * before[-2]["dli"]


@pytest.mark.parametrize(
    ("days", "words"),
    [(-1, "Give a day from"), (25, "Give a day from")],
    ids=["to come", "too early"],
)
def test_days_that_cannot_be_are_refused(grower, to, begun, days, words):
    on = (timezone.localdate() - timedelta(days=days)).isoformat()
    status, refused = grower("put", f"{to}/plans", {"on": on})
    assert (status, words in refused["detail"]) == (422, True)
    assert Plan.objects.filter(run=begun["id"]).count() == 1


def test_what_cannot_be_planned_anew(grower, stranger, run, space):
    to = f"runs/{run['id']}"
    assert "has not begun" in grower("put", f"{to}/plans", {})[1]["detail"]
    other = {**{k: run[k] for k in ("space_id", "fixture_id")}}
    herbs = grower("post", "runs", {**other, "crop_id": grower.named("crops", "Lettuce")["id"]})[1]
    grower("put", f"{to}/begin", {})
    refused = grower("put", f"{to}/plans", {"by_id": herbs["id"]})[1]
    assert "another crop" in refused["detail"]
    assert stranger("put", f"{to}/plans", {})[0] == 404
    theirs = stranger("post", "spaces", BOX_ROOM)[1]
    lamp = stranger.named("fixtures", "Wickerlight Six")["id"]
    crop = stranger.named("crops", "Lettuce")["id"]
    made = {"space_id": theirs["id"], "fixture_id": lamp, "crop_id": crop}
    own = stranger("post", "runs", made)[1]
    assert grower("put", f"{to}/plans", {"by_id": own["id"]})[0] == 404
    grower("put", f"{to}/end", {})
    assert "has ended" in grower("put", f"{to}/plans", {})[1]["detail"]


def test_a_run_ends_with_how_and_how_much_and_takes_that_back(grower, to, begun):
    body = {"how": "harvested", "harvest": 22, "unit": "pieces"}
    ended = grower("put", f"{to}/end", body)[1]
    assert (ended["ended_how"], ended["harvest"], ended["harvest_unit"]) == (
        "harvested",
        22,
        "pieces",
    )
    back = grower("delete", f"{to}/end")[1]
    assert (back["ended_on"], back["ended_how"], back["harvest"]) == (None, "", None)
    given_up = grower("put", f"{to}/end", {"how": "given_up"})[1]
    assert (given_up["ended_how"], given_up["harvest_unit"]) == ("given_up", "")
    assert grower("put", f"{to}/end", {"harvest": -1})[0] == 422
