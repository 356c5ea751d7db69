"""A rack of shelves: its levels are spaces, and a plan on each answers like a tent."""

from datetime import date, timedelta

import pytest

from canopy.light.enclosure import Enclosure
from canopy.plan.rack import LEAF_TRANSMITTANCE, falls_through
from server.runs.demo import HERB_SHELF
from tests.server.conftest import fields

LEVEL = {**HERB_SHELF, "lining": "open", "ceiling_reflectance": 0.6, "lamps_fixed": True}
RACK = {"name": "Kitchen rack", "clear_cm": [50, 48, 55], "level": LEVEL}


@pytest.fixture
def rack(grower):
    status, made = grower("post", "spaces/racks", RACK)
    assert status == 201, made
    return made


@pytest.fixture
def plan(grower):
    """Put a crop under lamps on a level."""

    def plan(space_id, lamp="Hearth Pair", crop="Winter herbs"):
        body = {
            "space_id": space_id,
            "fixture_id": grower.named("fixtures", lamp)["id"],
            "crop_id": grower.named("crops", crop)["id"],
        }
        status, run = grower("post", "runs", body)
        assert status == 201, run
        return run

    return plan


def change(grower, space, **values):
    status, kept = grower("put", f"spaces/{space['id']}", {**space, **values})
    assert status == 200, kept
    return kept


def bench(grower, run):
    return grower("get", f"runs/{run['id']}/stages/{run['stage_id']}/bench")[1]


def test_each_level_of_a_rack_is_a_space_like_any_other(grower, rack):
    names = [(level["name"], level["tier"], level["height_cm"]) for level in rack["levels"]]
    assert names == [
        ("Kitchen rack, level 1", 0, 50),
        ("Kitchen rack, level 2", 1, 48),
        ("Kitchen rack, level 3", 2, 55),
    ]
    assert {level["rack_id"] for level in rack["levels"]} == {rack["id"]}
    listed = [space["name"] for space in grower("get", "spaces")[1]]
    assert listed == [name for name, _, _ in names]
    assert {level["tariff_per_kwh"] for level in rack["levels"]} == {0.31}
    # one level differs, and one more comes on top like the one under it
    change(grower, rack["levels"][2], depth_cm=30.0, pot_cm=7.0)
    status, taller = grower("post", f"spaces/racks/{rack['id']}/levels", {"clear_cm": 35})
    assert status == 201
    top = taller["levels"][3]
    assert (top["tier"], top["height_cm"], top["depth_cm"], top["pot_cm"]) == (3, 35, 30, 7)
    assert top["tariff_per_kwh"] == 0.31
    named = grower("put", f"spaces/racks/{rack['id']}/name", {"name": "By the window"})[1]
    assert named["name"] == "By the window"


def test_a_rack_is_put_away_with_its_levels_and_comes_back_with_them(grower, rack):
    for removed in (True, False):
        path = f"spaces/racks/{rack['id']}/aside"
        assert grower("put", path, {"removed": removed})[0] == 200
        assert {space["removed"] for space in grower("get", "spaces")[1]} == {removed}


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"clear_cm": []}, "clear_cm"),
        ({"clear_cm": [40] * 13}, "clear_cm"),
        ({"clear_cm": [40, 20], "level": {**LEVEL, "pot_cm": 19}}, "pot_cm"),
        ({"level": {**LEVEL, "board_through": 1.2}}, "level.board_through"),
        ({"level": {**LEVEL, "ceiling_reflectance": 1}}, "level.ceiling_reflectance"),
    ],
)
def test_racks_that_cannot_be(grower, body, field):
    status, refusal = grower("post", "spaces/racks", {**RACK, **body})
    assert status == 422
    assert field in str(fields(refusal)) or field in str(refusal)
    assert grower("get", "spaces/racks")[1] == []


def test_a_rack_has_no_more_levels_than_anyone_could_reach(grower, rack):
    for _ in range(9):
        assert grower("post", f"spaces/racks/{rack['id']}/levels", {"clear_cm": 40})[0] == 201
    status, refusal = grower("post", f"spaces/racks/{rack['id']}/levels", {"clear_cm": 40})
    assert (status, "12 levels are the most" in refusal["detail"]) == (422, True)


def test_lamps_under_a_board_stay_there_whatever_is_asked(grower, rack, plan):
    run = plan(rack["levels"][0]["id"])
    found = bench(grower, run)
    assert found["geometry"]["fixed"]
    hung = {hang["above_floor_cm"] for hang in found["hangings"]}
    # 50 cm, less hangers of 2 and a body of 4
    assert hung == {44}
    body = {"stage_id": run["stage_id"], "height_cm": 12, "dial_pct": 60, "hours": 12}
    tried = grower("post", f"runs/{run['id']}/bench", body)[1]
    assert tried["setting"]["height_cm"] == found["setting"]["height_cm"]
    season = grower("get", f"runs/{run['id']}/season")[1]
    assert {row["lamp_cm"] for row in season["rows"]} == {44}
    free = change(grower, rack["levels"][0], lamps_fixed=False)
    assert not bench(grower, run)["geometry"]["fixed"]
    assert free["rack_id"] == rack["id"]


def test_the_board_above_sends_light_back(grower, rack, plan):
    run = plan(rack["levels"][0]["id"])
    body = {"stage_id": run["stage_id"], "height_cm": 20, "dial_pct": 60, "hours": 12}

    def mean(**values):
        change(grower, rack["levels"][0], **values)
        return grower("post", f"runs/{run['id']}/bench", body)[1]["outcome"]["mean"]

    dark, board, white = (mean(ceiling_reflectance=r) for r in (0.05, 0.6, 0.9))
    assert dark < board < white
    # without one of its own the ceiling is as the lining: open, it sends back nothing
    assert mean(ceiling_reflectance=None) < dark


def test_what_falls_through_reaches_the_level_below_and_no_other(grower, rack, plan):
    low, middle, top = rack["levels"]
    runs = [plan(level["id"]) for level in (low, middle, top)]
    solid = [bench(grower, run) for run in runs]
    assert [answer["above_dli"] for answer in solid] == [0, 0, 0]
    change(grower, middle, board_through=0.5)
    mesh = [bench(grower, run) for run in runs]
    assert mesh[0]["above_dli"] > 0
    assert [answer["above_dli"] for answer in mesh[1:]] == [0, 0]
    # by hand: of the middle level's day what leaves let past, half of it through the board, and
    # of that what an even ceiling brings to the tops
    stage = grower("get", f"runs/{runs[0]['id']}/season")[1]["stages"]
    part = next(part for part in stage if part["stage_id"] == runs[0]["stage_id"])
    rows = grower("get", f"runs/{runs[1]['id']}/season")[1]["rows"]
    lamp_dli = rows[part["first_day"] + part["days"] // 2]["dli"]
    past = 1 - 0.95 * (1 - LEAF_TRANSMITTANCE)
    tops = 50 - HERB_SHELF["pot_cm"] - mesh[0]["geometry"]["plant_end_cm"]
    box = Enclosure(80, 36, tops, (0.0,) * 4, 0.6, 0.10)
    assert mesh[0]["above_dli"] == pytest.approx(falls_through(lamp_dli * past, 0.5, box), rel=0.02)
    # it counts like daylight does, in season and ranking too
    assert mesh[0]["outcome"]["dli"] == pytest.approx(
        sum(
            part
            for part in (
                mesh[0]["outcome"]["mean"] * mesh[0]["setting"]["hours"] * 0.0036,
                mesh[0]["above_dli"],
            )
        )
    )
    season = grower("get", f"runs/{runs[0]['id']}/season")[1]
    assert season["stages"][0]["above_dli"] > 0
    # a level with nothing planned on it lights nothing
    grower("put", f"runs/{runs[1]['id']}/aside", {"removed": True})
    assert bench(grower, runs[0])["above_dli"] == 0


def test_a_begun_run_keeps_what_fell_through_when_it_began(grower, rack, plan):
    low, middle, _ = rack["levels"]
    below, above = plan(low["id"]), plan(middle["id"])
    change(grower, middle, board_through=0.5)
    first = bench(grower, below)["above_dli"]
    assert grower("put", f"runs/{below['id']}/begin", {})[0] == 200
    grower("put", f"runs/{above['id']}/aside", {"removed": True})
    assert bench(grower, below)["above_dli"] == pytest.approx(first)
    assert '"above"' in grower("get", f"runs/{below['id']}/file")[1]["text"]


def test_the_rack_adds_up_what_its_levels_draw_and_cost(grower, rack, plan):
    low, middle, top = rack["levels"]
    runs = [plan(low["id"]), plan(top["id"], "Sill Strip 30")]
    path = f"runs/racks/{rack['id']}"
    found = grower("get", path)[1]
    assert [level["space_id"] for level in found["levels"]] == [top["id"], middle["id"], low["id"]]
    assert found["levels"][1]["run_id"] is None
    lit = [found["levels"][2], found["levels"][0]]
    for run, level in zip(runs, lit):
        season = grower("get", f"runs/{run['id']}/season")[1]
        row = season["rows"][0]
        assert (level["run_id"], level["stage"]) == (run["id"], row["stage"])
        assert level["outcome"]["kwh_per_day"] == pytest.approx(row["kwh"])
        assert level["cost_per_day"] == pytest.approx(row["cost"])
        assert (level["lamp_cm"], level["tops_cm"]) == (row["lamp_cm"], row["tops_cm"])
        assert level["windows"] == row["windows"]
    assert found["kwh_per_day"] == pytest.approx(sum(e["outcome"]["kwh_per_day"] for e in lit))
    assert found["cost_per_day"] == pytest.approx(sum(e["cost_per_day"] for e in lit))
    # both come on at six
    assert found["most_watts"] == pytest.approx(sum(e["outcome"]["watts"] for e in lit))
    assert found["most_at_minute"] == 360
    # one after another they draw no more than the stronger one
    for run in runs:
        stage = found["levels"][2]["stage_id"]
        body = {"height_cm": 20, "dial_pct": 60, "hours": 12, "on_minute": 360}
        later = {**body, "on_minute": 1080}
        levers = body if run == runs[0] else later
        path_ = f"runs/{run['id']}/stages/{stage}/setting"
        assert grower("put", path_, levers)[0] == 200
    apart = grower("get", path)[1]
    watts = [e["outcome"]["watts"] for e in apart["levels"] if e["outcome"]]
    assert apart["most_watts"] == pytest.approx(max(watts))


def test_a_rack_on_another_day_and_in_two_currencies(grower, rack, plan):
    low, middle, _ = rack["levels"]
    plan(low["id"]), plan(middle["id"])
    path = f"runs/racks/{rack['id']}"
    today = date.fromisoformat(grower("get", path)[1]["day"])
    later = today + timedelta(days=20)
    then = grower("get", f"{path}?on={later}")[1]
    assert {level["on"] for level in then["levels"]} == {None, later.isoformat()}
    # before it begins and after it ends it is shown as it begins and ends
    for day in (today - timedelta(days=9), today + timedelta(days=900)):
        levels = grower("get", f"{path}?on={day}")[1]["levels"]
        assert all(level["outcome"] for level in levels if level["run_id"])
    change(grower, middle, currency="$")
    assert grower("get", path)[1]["currency"] == ""
    change(grower, low, height_cm=24.0)
    cramped = next(e for e in grower("get", path)[1]["levels"] if e["space_id"] == low["id"])
    assert "cm" in cramped["refused"]
    assert cramped["outcome"] is None


def test_a_begun_run_stands_for_its_level_before_a_newer_plan(grower, rack, plan):
    low = rack["levels"][0]["id"]
    first, second = plan(low), plan(low)
    path = f"runs/racks/{rack['id']}"
    shown = lambda: grower("get", path)[1]["levels"][2]["run_id"]  # noqa: E731
    assert shown() == second["id"]
    grower("put", f"runs/{first['id']}/begin", {})
    assert shown() == first["id"]
    grower("put", f"runs/{first['id']}/end", {})
    assert shown() == second["id"]


def test_another_growers_rack_is_not_there(grower, stranger, rack, plan):
    plan(rack["levels"][0]["id"])
    for method, path, body in (
        ("get", f"runs/racks/{rack['id']}", None),
        ("post", f"spaces/racks/{rack['id']}/levels", {"clear_cm": 40}),
        ("put", f"spaces/racks/{rack['id']}/name", {"name": "Mine"}),
        ("put", f"spaces/racks/{rack['id']}/aside", {"removed": True}),
    ):
        assert stranger(method, path, body)[0] == 404
    assert stranger("get", "spaces/racks") == (200, [])
    # a copy of a level's figures makes no level of it
    status, kept = stranger("post", "spaces", {**LEVEL, "rack_id": rack["id"], "tier": 9})
    assert (status, kept["rack_id"]) == (201, None)
