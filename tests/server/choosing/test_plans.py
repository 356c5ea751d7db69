"""Plans side by side: each as its own season and bench have it, and what lies between them."""

import pytest

from server.runs.demo import BOX_ROOM
from tests.server.sent import LEVERS, run_body

BOARD = "white-board"


@pytest.fixture
def stage(grower):
    return grower.named("crops", "Potted chrysanthemums")["stages"][2]["id"]


def beside(grower, run, *others, stage):
    body = {"run_ids": [other["id"] for other in others], "stage_id": stage}
    status, found = grower("post", f"runs/{run['id']}/beside", body)
    assert status == 200, found
    return found


def test_each_is_as_its_own_season_and_bench_have_it(grower, run, stage):
    copy = grower("post", f"runs/{run['id']}/copy", {"name": "Lower", "own_space": True})[1]
    grower("put", f"runs/{copy['id']}/stages/{stage}/setting", {**LEVERS, "on_minute": 0})
    found = beside(grower, run, copy, stage=stage)
    for plan, made in zip(found["plans"], (run, copy)):
        season = grower("get", f"runs/{made['id']}/season")[1]
        bench = grower("get", f"runs/{made['id']}/stages/{stage}/bench")[1]
        assert {name: plan[name] for name in ("kwh", "cost", "trips", "days")} == {
            name: season[name] for name in ("kwh", "cost", "trips", "days")
        }
        at = plan["stage"]
        assert (at["setting"], at["outcome"]) == (bench["setting"], bench["outcome"])
        assert at["floor"]["floor"] == bench["floor"]["day_ppfd"]
        assert at["floor"]["inside_share"] == bench["inside_share"]
        assert plan["short"] == [
            s["name"] for s in season["stages"] if not s["planned"] or s["planned"]["relaxed"]
        ]
    assert [lamp["count"] for lamp in found["plans"][0]["lamps"]] == [1]


def test_a_copy_lined_otherwise_shows_what_the_lining_gains(grower, run, stage):
    """The same levers under whiter walls: as much more as the bench says of that lining."""
    path = f"runs/{run['id']}/stages/{stage}/setting"
    grower("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "lining": "black"})
    grower("put", path, {**LEVERS, "on_minute": 0})
    gains = grower("post", f"runs/{run['id']}/lining", {"stage_id": stage, **LEVERS})[1]
    gain = next(each["gain"] for each in gains["gains"] if each["lining"] == BOARD)
    lined = {"name": "Lined", "lining": BOARD, "space_name": "Boards"}
    status, copy = grower("post", f"runs/{run['id']}/copy", lined)
    assert status == 201
    room = grower.named("spaces", "Boards")
    assert copy["space_id"] == room["id"] != run["space_id"]
    assert {room[f"lining_{wall}"] for wall in ("left", "right", "front", "back")} == {BOARD}
    plain, white = beside(grower, run, copy, stage=stage)["plans"]
    more = white["stage"]["outcome"]["mean"] / plain["stage"]["outcome"]["mean"] - 1
    assert more == pytest.approx(gain["mean"], abs=0.001)
    difference = beside(grower, run, copy, stage=stage)["differences"][1]
    assert difference["mean"] > 0
    assert beside(grower, copy, run, stage=stage)["differences"][1]["mean"] == pytest.approx(
        -difference["mean"]
    )
    # what sends back less is no gain to be tried
    refused = grower("post", f"runs/{copy['id']}/copy", {"lining": "black"})
    assert (refused[0], refused[1]["errors"][0]["field"]) == (422, "lining")


def test_other_rooms_and_crops_stand_beside_without_a_difference_that_would_lie(grower, run, stage):
    wide = grower("post", "spaces", {**BOX_ROOM, "name": "Wide", "width_cm": 160})[1]
    herbs = next(c for c in grower("get", "crops")[1] if c["id"] != run["crop_id"])
    other = run_body(run, space_id=wide["id"], crop_id=herbs["id"])
    low = grower("post", "spaces", {**BOX_ROOM, "name": "Too low", "height_cm": 40})[1]
    made = [grower("post", "runs", body)[1] for body in (other, run_body(run, space_id=low["id"]))]
    found = beside(grower, run, *made, stage=stage)
    assert found["differences"] == [None, None, None]
    # of another crop the stage that asks for the most light
    hungriest = max(herbs["stages"], key=lambda s: s["dli_low"] + s["dli_high"])["name"]
    assert found["plans"][1]["stage"]["name"] == hungriest
    assert found["plans"][2]["refused"] or found["plans"][2]["short"]


def test_the_same_plan_twice_is_once_and_too_many_are_refused(grower, run, stage):
    assert len(beside(grower, run, run, run, stage=stage)["plans"]) == 1
    body = {"run_ids": [run["id"]] * 4, "stage_id": stage}
    assert grower("post", f"runs/{run['id']}/beside", body)[0] == 422
    assert grower("post", f"runs/{run['id']}/beside", {**body, "run_ids": []})[0] == 422
    other = grower.named("crops", "Potted chrysanthemums")["id"] + 1
    gone = {"run_ids": [run["id"]], "stage_id": 10_000 + other}
    assert grower("post", f"runs/{run['id']}/beside", gone)[0] == 404
