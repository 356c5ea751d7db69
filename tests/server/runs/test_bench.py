"""The bench over the API."""

import pytest

from server.runs.demo import BOX_ROOM
from tests.core.formats.test_photometric import lm63


@pytest.fixture
def flowering(grower, run):
    crop = grower.named("crops", "Potted chrysanthemums")
    return next(s["id"] for s in crop["stages"] if s["response"] == "short-day")


@pytest.fixture
def bench(grower, run, flowering):
    return grower("get", f"runs/{run['id']}/stages/{flowering}/bench")[1]


def move(grower, run, stage, **levers):
    body = {"stage_id": stage, "height_cm": 40, "dial_pct": 60, "hours": 12, **levers}
    return grower("post", f"runs/{run['id']}/bench", body)[1]


def test_the_first_answer_is_the_plans(bench):
    assert bench["setting"] == bench["solution"]["setting"]
    assert bench["solution"]["fits"]
    assert not bench["kept"]
    # light, energy and hours hang together by their definitions
    o, s = bench["outcome"], bench["setting"]
    assert o["dli"] == pytest.approx(o["mean"] * s["hours"] * 0.0036)
    assert o["kwh_per_day"] == pytest.approx(o["watts"] * s["hours"] / 1000)
    assert bench["cost_per_day"] == pytest.approx(o["kwh_per_day"] * BOX_ROOM["tariff_per_kwh"])
    assert bench["ppfd_low"] == pytest.approx(10 / (s["hours"] * 0.0036))
    assert bench["canopy_umol_s"] == pytest.approx(bench["statistics"]["area_mean"] * 1.2 * 0.9)
    assert bench["off_minute"] == bench["on_minute"] + s["hours"] * 60
    rows = [value for row in bench["floor"]["ppfd"] for value in row]
    assert o["peak"] == pytest.approx(max(rows), abs=0.06)
    assert o["mean"] == pytest.approx(sum(rows) / len(rows), abs=0.1)


def test_levers_move_and_stretches_follow(grower, run, flowering):
    lower = move(grower, run, flowering, dial_pct=60)
    brighter = move(grower, run, flowering, dial_pct=90)
    light = brighter["light_fraction"] / lower["light_fraction"]
    assert brighter["outcome"]["mean"] == pytest.approx(lower["outcome"]["mean"] * light)
    hours = {s["lever"]: s["parts"] for s in brighter["stretches"]}["hours"]
    assert hours[0]["low"] == 10
    assert brighter["stretches"][0]["parts"] != lower["stretches"][0]["parts"]


def test_a_wish_beyond_reach_becomes_the_nearest_that_can_be_had(grower, run, flowering):
    answer = move(grower, run, flowering, height_cm=400, dial_pct=3, hours=20)
    # on its first day: 180 - 16 pot - 23 plant - 7 lamp - 12 hangers; dial from 10, days to 12 h
    assert answer["setting"] == {"height_cm": 122, "dial_pct": 10, "hours": 12}
    # at its end, with plants of 45 cm, 100 are left
    assert answer["rehang"]["left_cm"] == 100


def test_the_timers_rounding_is_said(grower, run, flowering):
    answer = move(grower, run, flowering, height_cm=40, dial_pct=66, hours=12)
    # hours for the middle of 10-20 at this mean: DLI / (PPFD x 0.0036)
    assert answer["middle_hours"] == pytest.approx(15 / (answer["outcome"]["mean"] * 0.0036))
    assert move(grower, run, flowering, dial_pct=10)["middle_hours"] is None


def test_what_is_kept_comes_back(grower, run, flowering):
    path = f"runs/{run['id']}/stages/{flowering}"
    wish = {"height_cm": 50, "dial_pct": 80, "hours": 11.25, "on_minute": 1200}
    assert grower("put", f"{path}/setting", wish)[0] == 200
    back = grower("get", f"{path}/bench")[1]
    assert back["kept"]
    assert {**back["setting"], "on_minute": back["on_minute"]} == wish
    assert back["off_minute"] == (1200 + 11 * 60 + 15) % 1440
    assert grower("get", "runs")[1][0]["stage_id"] == flowering


def test_levers_that_cannot_be(grower, run, flowering):
    for bad in ({"height_cm": -1}, {"dial_pct": 101}, {"hours": 25}, {"on_minute": 1440}):
        problem = move(grower, run, flowering, **bad)
        assert problem["errors"][0]["field"] == next(iter(bad))


def test_a_lamp_larger_than_the_tent(grower, run):
    large = grower.named("fixtures", "Wickerlight Eight")["id"]
    body = {**{k: run[k] for k in ("space_id", "crop_id")}, "fixture_id": large}
    status, problem = grower("put", f"runs/{run['id']}", body)
    assert (status, problem["errors"][0]["field"]) == (422, "fixture_id")
    assert grower("get", "runs")[1] == [run]


def test_no_headroom_says_how_much_is_missing(grower, space, run, flowering):
    grower("put", f"spaces/{space['id']}", {**BOX_ROOM, "height_cm": 90})
    rooms = grower("get", f"runs/{run['id']}/headroom")[1]
    # 90 - 16 - 45 - 7 - 12 = 10, and the lamp stays 15 away
    assert [room["missing_cm"] for room in rooms][-1] == pytest.approx(5)
    assert rooms[0]["fits"]
    status, problem = grower("get", f"runs/{run['id']}/stages/{flowering}/bench")
    assert status == 422
    assert "5 cm more headroom" in problem["detail"]


def test_an_open_side_and_the_light_file_change_the_floor(grower, space, run, flowering):
    def means(bench):
        rows = bench["floor"]["ppfd"]
        return [sum(row[i] for row in rows) for i in (0, -1)]

    left, right = means(move(grower, run, flowering))
    assert left == pytest.approx(right, rel=0.01)
    grower("put", f"spaces/{space['id']}", {**BOX_ROOM, "lining_left": "open"})
    left, right = means(move(grower, run, flowering))
    assert left < 0.9 * right
    before = move(grower, run, flowering)["outcome"]["mean"]
    body = {"text": lm63(size="0.2 0.6 0"), "unit": "umol/s/sr"}
    lamp = grower("put", f"fixtures/{run['fixture_id']}/photometry", body)[1]
    after = move(grower, run, flowering)
    assert after["outcome"]["mean"] != pytest.approx(before, rel=0.05)
    given = lamp["photometry"]["ppf_umol_s"] * after["light_fraction"]
    assert after["capture"] == pytest.approx(after["canopy_umol_s"] / given)


def test_the_cap_gives_way_when_the_grower_asks(grower, run, flowering):
    crop = grower.named("crops", "Potted chrysanthemums")
    stages = [{**s, "hot_spot_cap": 150} for s in crop["stages"]]
    body = {"name": crop["name"], "habit": crop["habit"], "stages": stages}
    grower("put", f"crops/{crop['id']}", body)
    path = f"runs/{run['id']}/stages/{flowering}/bench"
    held = grower("get", path)[1]["solution"]
    assert held["outcome"]["peak"] <= 150
    assert "dli_low" in held["relaxed"]
    wish = {k: run[k] for k in ("space_id", "fixture_id", "crop_id")}
    grower("put", f"runs/{run['id']}", {**wish, "over_cap": True})
    asked = grower("get", path)[1]["solution"]
    assert asked["relaxed"] == ["hot_spot_cap"]
    assert asked["outcome"]["dli"] > 10


def test_a_plan_opens_at_the_stage_that_asks_for_the_most_light(grower, run):
    lettuce = grower.named("crops", "Lettuce")
    wish = {**{k: run[k] for k in ("space_id", "fixture_id")}, "crop_id": lettuce["id"]}
    assert grower("put", f"runs/{run['id']}", wish)[1]["stage_id"] == lettuce["stages"][1]["id"]
