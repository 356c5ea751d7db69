"""Levers changed on a day within a stage, and groups of lamps set by themselves."""

import pytest

from tests.server.conftest import fields
from tests.server.sent import LEVERS

KEPT = {**LEVERS, "on_minute": 360}


@pytest.fixture
def to(run):
    return f"runs/{run['id']}"


@pytest.fixture
def stages(grower):
    return grower.named("crops", "Potted chrysanthemums")["stages"]


@pytest.fixture
def keep(grower, to, stages):
    """Keep levers for the leafy stage, from its day 7 where nothing else is said."""

    def keep(**change):
        path = f"{to}/stages/{stages[1]['id']}/setting"
        return grower("put", path, {**KEPT, "hours": 16, "from_day": 7, **change})

    return keep


def names(season):
    return [(s["name"], s["from_day"], s["first_day"], s["days"]) for s in season["stages"]]


def test_a_change_within_a_stage_makes_a_part_of_it(grower, to, stages, keep):
    leafy = stages[1]
    keep(from_day=0, dial_pct=40)
    assert keep(dial_pct=60, hours=14)[0] == 200
    season = grower("get", f"{to}/season")[1]
    assert names(season)[:3] == [
        (stages[0]["name"], 0, 0, 14),
        (leafy["name"], 0, 14, 7),
        (leafy["name"], 7, 21, leafy["days"] - 7),
    ]
    row = {each["day"]: each for each in season["rows"]}
    assert (row[20]["hours"], row[21]["hours"]) == (16, 14)
    assert row[34]["dial_pct"] == 60
    # plants of the second part begin where they end in the first, and the pictures say so
    first, later = (
        grower("get", f"{to}/stages/{leafy['id']}/bench?from_day={day}")[1] for day in (0, 7)
    )
    assert first["geometry"]["plant_end_cm"] == pytest.approx(later["geometry"]["plant_start_cm"])
    grown = leafy["plant_start_cm"] + 7 / leafy["days"] * (
        leafy["plant_end_cm"] - leafy["plant_start_cm"]
    )
    assert first["geometry"]["plant_end_cm"] == pytest.approx(grown)
    assert (first["setting"]["dial_pct"], later["setting"]["dial_pct"]) == (40, 60)
    tabs = later["made_of"]["stages"]
    assert [(t["from_day"], t["days"], t["first_day"]) for t in tabs] == [
        (s["from_day"], s["days"], s["first_day"]) for s in season["stages"]
    ]
    # taken out, the stage is whole again and as it was set; the history keeps both
    path = f"{to}/stages/{leafy['id']}/setting?from_day=7"
    assert grower("delete", path)[0] == 204
    assert len(grower("get", f"{to}/season")[1]["stages"]) == len(stages)
    assert grower("get", f"{to}/stages/{leafy['id']}/bench")[1]["setting"]["dial_pct"] == 40
    history = grower("get", f"{to}/settings")[1]
    assert [(h["from_day"], h["freed"]) for h in history] == [(7, True), (7, False), (0, False)]


def test_a_change_can_be_tried_before_it_is_kept(grower, to, stages, keep):
    body = {"stage_id": stages[1]["id"], **LEVERS, "hours": 14, "from_day": 7}
    tried = grower("post", f"{to}/bench", body)[1]
    assert tried["from_day"] == 7
    assert len(tried["made_of"]["stages"]) == len(stages)
    keep(hours=14)
    kept = grower("post", f"{to}/bench", body)[1]
    for name in ("outcome", "geometry", "hangings", "rehang"):
        assert kept[name] == tried[name], name


def test_a_change_begins_with_the_levers_as_they_stand(grower, to, stages):
    """Nothing moves that day, and nothing else either, until the levers are."""
    leafy = stages[1]["id"]
    before = grower("get", f"{to}/season")[1]["rows"]
    path = f"{to}/stages/{leafy}/changes/9"
    assert grower("put", path)[0] == 204
    assert grower("put", path)[0] == 204
    season = grower("get", f"{to}/season")[1]
    assert [part["from_day"] for part in season["stages"]] == [0, 0, 9, 0]
    for was, now in zip(before[21:35], season["rows"][21:35]):
        assert now["windows"] == was["windows"]
        for name in ("hours", "dial_pct", "lamp_cm"):
            assert now[name] == pytest.approx(was[name]), (was["day"], name)
    assert not season["rows"][23]["tasks"]
    assert grower("put", f"{to}/stages/{leafy}/changes/21")[0] == 422


def test_the_plan_of_a_part_is_one_wherever_it_is_asked(grower, to, stages, keep):
    """The first part has no levers of its own: bench and season plan it to its last day."""
    keep(hours=14)
    bench = grower("get", f"{to}/stages/{stages[1]['id']}/bench")[1]
    planned = grower("get", f"{to}/season")[1]["stages"][1]["planned"]
    assert planned["setting"] == bench["solution"]["setting"]
    hung = [(hang["day"], hang["above_floor_cm"]) for hang in bench["hangings"]]
    assert [(hang["day"], hang["above_floor_cm"]) for hang in planned["hangings"]] == hung
    assert planned["hangings"][-1]["last_day"] == 6


@pytest.mark.parametrize(("change", "words"), [({"from_day": 21}, "lasts 21 days"), ({}, "")])
def test_a_change_has_to_lie_within_its_stage(keep, change, words):
    status, answer = keep(**change)
    assert status == (422 if words else 200)
    assert not words or words in answer["detail"]


def test_changes_of_a_stage_are_no_more_than_anyone_would_make(keep):
    for day in range(1, 11):
        assert keep(from_day=day)[0] == 200
    assert "10 changes are the most" in keep(from_day=11)[1]["detail"]
    # one that is there may still be moved
    assert keep(from_day=10, hours=15)[0] == 200


def test_a_stage_made_shorter_forgets_no_change(grower, to, stages, keep):
    keep(from_day=20)
    crop = grower.named("crops", "Potted chrysanthemums")
    body = {name: crop[name] for name in ("name", "habit", "stages")}
    for days, parts in ((15, 3), (21, 4)):
        body["stages"][1]["days"] = days
        assert grower("put", f"crops/{crop['id']}", body)[0] == 200
        assert len(grower("get", f"{to}/season")[1]["stages"]) == parts


def test_a_copy_and_a_begun_run_keep_their_parts(grower, to, keep):
    keep(hours=14)
    copy = grower("post", f"{to}/copy", {})[1]
    for run in (to, f"runs/{copy['id']}"):
        assert len(grower("get", f"{run}/season")[1]["stages"]) == 4
    grower("put", f"{to}/begin", {})
    assert len(grower("get", f"{to}/season")[1]["stages"]) == 4
    assert keep(from_day=9)[0] == 200


# groups


@pytest.fixture
def lamps(grower, run):
    """The rail's lamp, and two boards beside it in a group."""
    board = grower.named("fixtures", "Hearth Pair")["id"]
    hung = [
        {"fixture_id": run["fixture_id"], "x_cm": 60, "y_cm": 45},
        {"fixture_id": board, "x_cm": 25, "y_cm": 45, "group": 1},
        {"fixture_id": board, "x_cm": 95, "y_cm": 45, "group": 1},
    ]
    status, kept = grower("put", f"runs/{run['id']}/lamps", {"lamps": hung})
    assert status == 200, kept
    assert [lamp["group"] for lamp in kept] == [0, 1, 1]
    return hung


def bench(grower, to, stage, **levers):
    body = {"stage_id": stage["id"], **LEVERS, "hours": 12, "on_minute": 360, **levers}
    return grower("post", f"{to}/bench", body)[1]


def group(grower, to, stage, **body):
    path = f"{to}/stages/{stage['id']}/groups/1"
    return grower("put", path, {"dial_pct": 100, **body})


def test_a_group_has_its_own_dial_and_timer_at_each_stage(grower, to, lamps, stages):
    flower, leafy = stages[2], stages[1]
    before = bench(grower, to, flower)
    assert before["groups"] == [
        {
            "group": 1,
            "lamps": 2,
            "own": False,
            "own_timer": False,
            "dial_pct": 100,
            "windows": [],
            "watts": 0,
            "kwh_per_day": 0,
        }
    ]
    # three hours at noon, within the day of the others
    noon = [{"on_minute": 720, "hours": 3}]
    assert group(grower, to, flower, windows=noon)[0] == 204
    after = bench(grower, to, flower)
    one = after["groups"][0]
    assert (one["own"], one["own_timer"], one["windows"]) == (True, True, noon)
    assert one["kwh_per_day"] == pytest.approx(one["watts"] * 3 / 1000)
    # as bright while all are on, and less light over the day: what it misses are 9 h of them
    assert after["outcome"]["peak"] == pytest.approx(before["outcome"]["peak"])
    missed = before["outcome"]["dli"] - after["outcome"]["dli"]
    assert missed == pytest.approx(after["group_dli"] / 3 * 9, rel=1e-6)
    saved = before["outcome"]["kwh_per_day"] - after["outcome"]["kwh_per_day"]
    assert saved == pytest.approx(one["watts"] * 9 / 1000)
    assert after["cost_per_day"] == pytest.approx(after["outcome"]["kwh_per_day"] * 0.31)
    # the floor's day adds up to the day's light
    days = [ppfd * after["dli_per_umol"] for row in after["floor"]["day_ppfd"] for ppfd in row]
    assert sum(days) / len(days) == pytest.approx(after["outcome"]["dli"], rel=2e-3)
    assert after["floor"]["ppfd"] == before["floor"]["ppfd"] == before["floor"]["day_ppfd"]
    assert after["capture"] < 1 / (1 - 0.15)
    # at another stage nothing is set, and the season says when it is
    assert not bench(grower, to, leafy)["groups"][0]["own"]
    season = grower("get", f"{to}/season")[1]
    tasks = {row["day"]: row["tasks"] for row in season["rows"] if row["tasks"]}
    told = [task for task in tasks[35] if task["code"] == "season.group_timer"]
    assert [(t["figures"]["letter"], t["figures"]["times"]) for t in told] == [
        ("B", "12:00 to 15:00")
    ]
    assert season["stages"][2]["planned"]["groups"][0]["own_timer"]


def test_a_group_switched_off_or_let_go(grower, to, lamps, stages):
    flower = stages[2]
    full = bench(grower, to, flower)["outcome"]
    group(grower, to, flower, dial_pct=0)
    off = bench(grower, to, flower)
    assert off["groups"][0]["watts"] == 0
    assert off["outcome"]["watts"] < full["watts"]
    path = f"{to}/stages/{flower['id']}/groups/1"
    assert grower("delete", path)[0] == 204
    assert grower("delete", path)[0] == 204
    assert bench(grower, to, flower)["outcome"] == full


def test_a_night_broken_by_a_group_is_said(grower, to, lamps, stages):
    flower = stages[2]
    assert bench(grower, to, flower, hours=11)["night_conflict"] is None
    group(grower, to, flower, windows=[{"on_minute": 1410, "hours": 1}])
    broken = bench(grower, to, flower, hours=11)
    assert broken["night_conflict"]["code"].startswith("night.")
    assert broken["night_h"] < 12


def test_a_group_goes_with_the_change_it_was_set_at(grower, to, lamps, stages, keep):
    leafy = stages[1]
    status, refusal = group(grower, to, leafy, from_day=7)
    assert (status, fields(refusal)) == (422, ["from_day"])
    keep()
    assert group(grower, to, leafy, from_day=7, dial_pct=50)[0] == 204
    on = [bench(grower, to, leafy, from_day=day)["groups"][0]["own"] for day in (0, 7)]
    assert on == [False, True]
    # what is set before a change holds on after it
    group(grower, to, leafy, from_day=0, dial_pct=80)
    grower("delete", f"{to}/stages/{leafy['id']}/groups/1?from_day=7")
    assert bench(grower, to, leafy, from_day=7)["groups"][0]["dial_pct"] == 80
    group(grower, to, leafy, from_day=7, dial_pct=50)
    grower("delete", f"{to}/stages/{leafy['id']}/groups/1")
    grower("delete", f"{to}/stages/{leafy['id']}/setting?from_day=7")
    assert not bench(grower, to, leafy, from_day=9)["groups"][0]["own"]


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"windows": [{"on_minute": 0, "hours": 13}] * 2}, "longer than a day"),
        ({"windows": [{"on_minute": 600, "hours": 2}, {"on_minute": 660, "hours": 2}]}, "overlap"),
        ({"windows": [{"on_minute": 1400, "hours": 2}, {"on_minute": 30, "hours": 1}]}, "overlap"),
        ({"dial_pct": 101}, ""),
        ({"windows": [{"on_minute": 0, "hours": 1}] * 5}, ""),
    ],
)
def test_groups_that_cannot_be_set_so(grower, to, lamps, stages, body, words):
    status, refusal = group(grower, to, stages[2], **body)
    assert status == 422
    assert words in str(refusal)


def test_one_lamp_stays_on_the_rails(grower, run, lamps):
    away = [lamp | {"group": 1} for lamp in lamps]
    status, refusal = grower("put", f"runs/{run['id']}/lamps", {"lamps": away})
    assert (status, "in no group of its own" in refusal["detail"]) == (422, True)
    lamps[0]["group"] = 5
    assert grower("put", f"runs/{run['id']}/lamps", {"lamps": lamps})[0] == 422
