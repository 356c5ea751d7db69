"""Spaces: what is kept, what is refused with which sentence, and what power costs from when."""

import json

import pytest

from server.runs.demo import BOX_ROOM
from tests.server.conftest import fields


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"width_cm": -120}, "width_cm", "at least 20"),
        ({"width_cm": 1e300}, "width_cm", "at most 1000"),
        ({"height_cm": 12}, "height_cm", "at least 20"),
        ({"width_cm": "wide"}, "width_cm", "not a number"),
        ({"width_cm": None}, "width_cm", "not a number"),
        ({"name": " "}, "name", "empty"),
        ({"lining": "gold"}, "lining", "from the list"),
        ({"lining_back": "gold"}, "lining_back", "from the list"),
        ({"pot_cm": 170}, "pot_cm", "headroom would be -2 cm"),
        ({"timer_step_min": 7}, "timer_step_min", "one of"),
        ({"tariff_per_kwh": -1}, "tariff_per_kwh", "at least 0"),
        ({"colour": 1}, "colour", "leave it out"),
    ],
)
def test_spaces_that_cannot_be(grower, space, change, field, words):
    status, problem = grower("put", f"spaces/{space['id']}", {**BOX_ROOM, **change})
    assert (status, fields(problem)) == (422, [field])
    assert words in problem["errors"][0]["sentence"]
    # nothing of the space was lost
    assert grower("get", "spaces")[1][0] == space


def test_what_json_cannot_say_is_refused_too(grower):
    for raw in ('{"width_cm": NaN}', "{", "[]"):
        reply = grower.client.post("/api/spaces", raw, content_type="application/json")
        assert reply.status_code in (400, 422)
        assert reply["Content-Type"] == "application/problem+json"
    raw = json.dumps(BOX_ROOM).replace("120.0", "NaN")
    problem = grower.client.post("/api/spaces", raw, content_type="application/json").json()
    assert fields(problem) == ["width_cm"]


def test_a_space_is_changed(grower, space):
    kept = grower("put", f"spaces/{space['id']}", {**BOX_ROOM, "width_cm": 100})[1]
    assert kept == {**space, "width_cm": 100, "version": space["version"] + 1}


def test_a_space_is_put_away_and_brought_back(grower, run):
    path = f"spaces/{run['space_id']}/aside"
    assert grower("put", path, {"removed": True})[1]["removed"]
    # what is planned in it goes on
    assert grower("get", f"runs/{run['id']}/season")[0] == 200
    assert not grower("put", path, {"removed": False})[1]["removed"]


def dear(grower, run):
    return grower("get", f"runs/{run['id']}/season")[1]["cost"]


def test_another_price_holds_from_its_day_and_the_old_one_is_kept(grower, space, run):
    path, before = f"spaces/{space['id']}", dear(grower, run)
    # twice as dear from a day when the run is over
    later = {**BOX_ROOM, "tariff_per_kwh": 0.62, "tariff_from": "2199-01-01"}
    kept = grower("put", path, later)[1]
    assert (kept["tariff_per_kwh"], len(kept["tariffs"])) == (0.31, 2)
    assert dear(grower, run) == pytest.approx(before)
    kept = grower("put", path, {**BOX_ROOM, "tariff_per_kwh": 0.62, "currency": "kr"})[1]
    assert (kept["tariff_per_kwh"], kept["currency"]) == (0.62, "kr")
    assert [row["per_kwh"] for row in kept["tariffs"]] == [0.31, 0.62, 0.62]
    assert dear(grower, run) == pytest.approx(2 * before)
    # sent again nothing is added
    again = grower("put", path, {**BOX_ROOM, "tariff_per_kwh": 0.62, "currency": "kr"})[1]
    assert again["tariffs"] == kept["tariffs"]


def test_a_space_without_a_currency_has_its_growers(grower):
    grower("put", "accounts/preferences", {"currency": "Ft"})
    body = {name: value for name, value in BOX_ROOM.items() if name != "currency"}
    assert grower("post", "spaces", body)[1]["currency"] == "Ft"


def test_a_copy_is_like_its_space_with_its_prices_and_stands_by_itself(grower, space, run):
    path = f"spaces/{space['id']}"
    grower("put", path, {**BOX_ROOM, "tariff_per_kwh": 0.62, "tariff_from": "2199-01-01"})
    status, copy = grower("post", f"{path}/copy", {"name": "Like it"})
    assert (status, copy["name"], len(copy["tariffs"])) == (201, "Like it", 2)
    given = set(BOX_ROOM) - {"name"}
    assert {name: copy[name] for name in given} == {name: space[name] for name in given}
    grower("put", f"spaces/{copy['id']}", {**BOX_ROOM, "lining": "black"})
    assert grower("get", "spaces")[1][0]["lining"] == space["lining"]
    assert grower("get", "runs")[1][0]["space_id"] == space["id"]
    assert grower("post", f"{path}/copy", {"name": ""})[0] == 422
    # of a rack's level it is a space by itself
    levels = {"name": "Rack", "clear_cm": [40], "level": {**BOX_ROOM, "hangers_cm": 2}}
    level = grower("post", "spaces/racks", levels)[1]["levels"][0]
    alone = grower("post", f"spaces/{level['id']}/copy", {"name": "Alone"})[1]
    assert (alone["rack_id"], alone["height_cm"]) == (None, 40)
