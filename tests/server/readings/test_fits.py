"""A few readings correct the plan, everywhere, and back with one tap."""

import uuid
from datetime import date, timedelta
from typing import get_args

import pytest
from django.utils import timezone

from canopy.formats.keptfit import read_kept_fit
from server.accounts.models import Grower
from server.readings.adapters.sensors import SensorKind
from server.readings.models import SENSOR_KINDS
from server.runs.demo import BOX_ROOM
from server.runs.models import Fit, FitChoice
from tests.server.conftest import fields, said

SPOTS = ((60, 45), (8, 8), (112, 8), (8, 82), (112, 82))


def bench(grower, run, height, dial=100):
    body = {"stage_id": run["stage_id"], "height_cm": height, "dial_pct": dial, "hours": 12}
    return grower("post", f"runs/{run['id']}/bench", body)[1]


def read_of(answer, x, y):
    """The floor's light nearest to a place."""
    floor = answer["floor"]
    i = min(range(len(floor["x_cm"])), key=lambda k: abs(floor["x_cm"][k] - x))
    j = min(range(len(floor["y_cm"])), key=lambda k: abs(floor["y_cm"][k] - y))
    return floor["ppfd"][j][i]


@pytest.fixture
def walk(grower, run):
    """Five readings of a tent that gives so many times what the plan says."""

    def walk(times=0.85, height=45.0, dial=None, **more):
        plan = bench(grower, run, height, 100 if dial is None else dial)
        rows = [
            {"x_cm": x, "y_cm": y, "height_cm": height, "dial_pct": dial}
            | {"reading": read_of(plan, x, y) * times}
            for x, y in SPOTS
        ]
        return {"rows": rows, **more}

    return walk


def test_kinds_of_sensor_are_the_cores():
    assert get_args(SensorKind) == SENSOR_KINDS


def test_five_readings_correct_every_height_and_say_how_sure(grower, run, walk):
    asked = walk()
    before = {h: bench(grower, run, h) for h in (30, 45, 60)}
    status, answer = grower("post", f"readings/runs/{run['id']}/fits/try", asked)
    assert status == 200
    # nothing is kept by trying
    assert bench(grower, run, 45)["certainty"]["basis"] == "uncalibrated"
    assert answer["mean"]["read"]["low"] < answer["mean"]["read"]["middle"]
    status, kept = grower("post", f"readings/runs/{run['id']}/fits", asked)
    assert status == 201
    for height, old in before.items():
        new = bench(grower, run, height)
        ratio = new["outcome"]["mean"] / old["outcome"]["mean"]
        # a cheap sensor reads low: the true light lies a little over what it showed
        assert 0.82 < ratio < 0.95
        sure = new["certainty"]
        assert sure["basis"] == "fitted"
        assert [part["name"] for part in sure["parts"]] == ["fit"]
        assert sure["mean_tolerance"] < old["certainty"]["mean_tolerance"] / 1.5
    at = bench(grower, run, 45)
    assert at["made_of"]["fit"]["id"] == kept["id"]
    assert at["made_of"]["fit"]["readings"] == 5
    # what the fit's own answer changes, by another way and at another level of the tops
    for figure, name in (("mean", "mean"), ("peak", "brightest"), ("lowest", "dimmest")):
        own = answer[name]
        changed = at["outcome"][figure] / before[45]["outcome"][figure]
        assert changed == pytest.approx(own["true"]["middle"] / own["planned"], rel=0.012)
        shown = at["as_read"][name]["middle"] / at["outcome"][figure]
        assert shown == pytest.approx(own["read"]["middle"] / own["true"]["middle"], rel=0.01)
    wide = (at["certainty"]["mean_high"] - at["certainty"]["mean_low"]) / 2
    own = answer["mean"]["true"]
    assert wide == pytest.approx((own["high"] - own["low"]) / 2, rel=0.1)
    # a sensor's own error does not widen what it will show
    shown = at["as_read"]["mean"]
    assert shown["high"] - shown["low"] < 2 * wide


def test_the_fit_in_use_is_said_and_changed_back_with_one_tap(grower, run, walk):
    path = f"readings/runs/{run['id']}/fits"
    plain = bench(grower, run, 45)["outcome"]["mean"]
    weak, strong = (grower("post", path, walk(times))[1]["id"] for times in (0.8, 1.1))
    listed = grower("get", path)[1]
    assert [row["id"] for row in listed["fits"]] == [strong, weak]
    assert listed["in_use"] == strong
    assert [row["in_use"] for row in listed["fits"]] == [True, False]
    assert listed["fits"][0]["lamps"] == ["Wickerlight Six"]
    bright = bench(grower, run, 45)["outcome"]["mean"]
    status, answer = grower("post", f"{path}/choice", {"fit_id": weak})
    assert (status, answer["in_use"]) == (200, weak)
    dim = bench(grower, run, 45)["outcome"]["mean"]
    assert dim < plain < bright
    grower("post", f"{path}/choice", {"fit_id": None})
    none = bench(grower, run, 45)
    assert none["outcome"]["mean"] == plain
    assert none["made_of"]["fit"] is None
    status, seen = grower("get", f"{path}/{weak}?height_cm=30")
    assert (status, seen["height_cm"]) == (200, 30)


def test_season_and_ranking_answer_from_the_fit(grower, run, walk):
    def rows():
        found = grower("post", f"runs/{run['id']}/shelf", {})[1]
        return {row["name"]: row for row in found["rows"]}

    def stage():
        season = grower("get", f"runs/{run['id']}/season")[1]
        return next(s for s in season["stages"] if s["stage_id"] == run["stage_id"])["planned"]

    before, ranked = stage(), rows()
    grower("post", f"readings/runs/{run['id']}/fits", walk(0.7))
    after, again = stage(), rows()
    assert before["certainty"]["basis"] == "uncalibrated"
    assert after["certainty"]["basis"] == "fitted"
    name = "Wickerlight Six"
    assert again[name]["reserve"] < ranked[name]["reserve"]
    # the bench, the season and the shelf say the same of the same setting
    place = f"runs/{run['id']}/stages/{run['stage_id']}/bench"
    chosen = grower("get", place)[1]["solution"]
    assert chosen["setting"] == after["setting"] == again[name]["setting"]
    assert chosen["outcome"] == after["outcome"] == again[name]["outcome"]
    # another lamp is ranked in the tent as learnt, as the bench would have it
    other = "Tallow Board 200"
    assert again[other]["outcome"] != ranked[other]["outcome"]
    body = {k: run[k] for k in ("space_id", "crop_id")}
    body |= {"fixture_id": again[other]["fixture_id"]}
    assert grower("put", f"runs/{run['id']}", body)[0] == 200
    assert grower("get", place)[1]["solution"]["outcome"] == again[other]["outcome"]


def test_a_lamp_not_read_takes_the_tent_alone(grower, run, walk, space):
    grower("post", f"readings/runs/{run['id']}/fits", walk(0.8))
    other = {
        "space_id": space["id"],
        "fixture_id": grower.named("fixtures", "Tallow Board 200")["id"],
        "crop_id": run["crop_id"],
    }
    made = grower("post", "runs", other)[1]
    sure = bench(grower, made, 45)["certainty"]
    assert sure["basis"] == "learnt"
    grower("post", f"readings/runs/{made['id']}/fits/choice", {"fit_id": None})
    plain = bench(grower, made, 45)
    before = {p["name"]: p["mean"] for p in plain["certainty"]["parts"]}
    learnt = {p["name"]: p["mean"] for p in sure["parts"]}
    assert learnt.get("lining", 0) < before["lining"]
    assert learnt["ppf"] == pytest.approx(before["ppf"])


def test_a_lamp_takes_its_light_along_into_another_tent(grower, run, walk, space):
    grower("post", f"readings/runs/{run['id']}/fits", walk(0.8))
    elsewhere = {k: v for k, v in BOX_ROOM.items() if k != "name"} | {"name": "Attic"}
    attic = grower("post", "spaces", elsewhere)[1]
    body = {"space_id": attic["id"], "crop_id": run["crop_id"]}
    before = bench(grower, grower("post", "runs", body | {"fixture_id": run["fixture_id"]})[1], 45)
    grower("post", f"readings/runs/{run['id']}/fits/choice", {"fit_id": None})
    plain = bench(grower, grower("get", "runs")[1][0], 45)
    assert (before["certainty"]["basis"], plain["certainty"]["basis"]) == ("learnt", "uncalibrated")
    assert before["outcome"]["mean"] < plain["outcome"]["mean"] * 0.95
    assert before["certainty"]["mean_tolerance"] < plain["certainty"]["mean_tolerance"]


def test_a_moved_lamp_keeps_its_light_and_lets_go_of_where_it_hung(grower, run, walk):
    grower("post", f"readings/runs/{run['id']}/fits", walk(0.8))
    lamp = {"fixture_id": run["fixture_id"], "x_cm": 60, "y_cm": 45}
    fitted = bench(grower, run, 45)["certainty"]
    lamps = grower("get", f"runs/{run['id']}/lamps")[1]
    moved = {**lamp, "turn_deg": lamps[0]["turn_deg"], "x_cm": lamps[0]["x_cm"] + 3}
    assert grower("put", f"runs/{run['id']}/lamps", {"lamps": [moved]})[0] == 200
    sure = bench(grower, run, 45)["certainty"]
    assert (fitted["basis"], sure["basis"]) == ("fitted", "learnt")


def test_an_open_door_while_reading_is_asked_for(grower, run, walk):
    path = f"readings/runs/{run['id']}/fits/try"
    shut = grower("post", path, walk(1.0))[1]
    opened = grower("post", path, walk(1.0, open_read="front"))[1]
    # the same readings with the door open mean more light once it is shut
    assert opened["mean"]["true"]["middle"] > shut["mean"]["true"]["middle"] * 1.04
    stays = grower("post", path, walk(1.0, open_read="front", open_now="front"))[1]
    assert stays["mean"]["true"]["middle"] < opened["mean"]["true"]["middle"]


def test_what_is_put_right_is_said_and_can_be_left_out(grower, run, walk):
    sensor = {
        "name": "My phone",
        "kind": "phone",
        "pairs": [[100, 120], [400, 484], [250, 300]],
        "height_cm": 1,
    }
    status, made = grower("post", "readings/sensors", sensor)
    assert status == 201
    path = f"readings/runs/{run['id']}/fits/try"
    answer = grower("post", path, walk(0.8, sensor_id=made["id"]))[1]
    (own,) = answer["corrections"]
    assert (own["name"], own["used"]) == ("compared", True)
    assert own["factor"] == pytest.approx(1.204, rel=0.002)
    first = answer["residuals"][0]
    assert first["measured"] == pytest.approx(first["reading"] * own["factor"])
    plain = grower("post", path, walk(0.8, sensor_id=made["id"], left_out=["compared"]))[1]
    assert plain["residuals"][0]["measured"] == plain["residuals"][0]["reading"]
    assert plain["sensor_sd"] > answer["sensor_sd"]


def test_a_map_read_here_makes_a_fit_and_one_from_elsewhere_is_refused(grower, run, space):
    lines = ["x_cm,y_cm,height_cm,ppfd_umol_m2_s"]
    plan = bench(grower, run, 45)
    lines += [f"{x},{y},45,{read_of(plan, x, y) * 0.9:.1f}" for x, y in SPOTS]
    here = {k: space[k] for k in ("width_cm", "depth_cm", "height_cm", "lining")}
    body = {"name": "Five", "text": "\n".join(lines), **here}
    path = f"fixtures/{run['fixture_id']}/maps"
    grower("post", path, body)
    grower("post", path, body | {"name": "Elsewhere", "width_cm": space["width_cm"] + 20})
    maps = {row["name"]: row for row in grower("get", f"readings/runs/{run['id']}/fits")[1]["maps"]}
    assert (maps["Five"]["here"], maps["Elsewhere"]["here"]) == (True, False)
    fits = f"readings/runs/{run['id']}/fits"
    assert grower("post", fits, {"map_id": maps["Five"]["id"]})[0] == 201
    assert bench(grower, run, 45)["certainty"]["basis"] == "fitted"
    status, problem = grower("post", fits, {"map_id": maps["Elsewhere"]["id"]})
    assert (status, fields(problem)) == (422, ["map_id"])
    assert "another tent" in problem["detail"]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"rows": []}, "rows"),
        ({"read_on": "2999-01-01"}, "read_on"),
        ({"edge_cm": 60}, "edge_cm"),
        ({"plane_cm": 900}, "plane_cm"),
    ],
)
def test_what_cannot_be_is_refused_with_a_sentence(grower, run, walk, change, field):
    status, problem = grower("post", f"readings/runs/{run['id']}/fits/try", walk() | change)
    assert (status, fields(problem)) == (422, [field])


def test_sent_twice_it_is_kept_once(grower, run, walk):
    path, key = f"/api/readings/runs/{run['id']}/fits", str(uuid.uuid4())
    asked = walk()
    sent = [
        grower.client.post(path, asked, content_type="application/json", HTTP_IDEMPOTENCY_KEY=key)
        for _ in range(2)
    ]
    assert sent[0].json() == sent[1].json()
    assert len(grower("get", f"readings/runs/{run['id']}/fits")[1]["fits"]) == 1


def test_light_that_rises_with_the_lamp_is_pointed_at(grower, run, walk):
    rows = [
        {"x_cm": 60, "y_cm": 45, "height_cm": height, "dial_pct": None, "reading": reading}
        for height, reading in ((50, 606), (65, 633))
    ]
    answer = grower("post", f"readings/runs/{run['id']}/fits/try", {"rows": rows})[1]
    (line,) = said(answer["cannot_be"])
    assert "633" in line
    assert "606" in line


def test_of_strangers_nothing_is_seen(grower, stranger, run, walk):
    made = grower("post", f"readings/runs/{run['id']}/fits", walk())[1]
    assert stranger("get", f"readings/runs/{run['id']}/fits")[0] == 404
    assert stranger("get", f"readings/runs/{run['id']}/fits/{made['id']}")[0] == 404
    sensor = grower("post", "readings/sensors", {"name": "Disc", "kind": "quantum"})[1]
    changed = {"name": "Mine", "kind": "lux"}
    assert stranger("put", f"readings/sensors/{sensor['id']}", changed)[0] == 404


def test_a_run_that_ended_stands_on_the_readings_of_its_time(grower, run, walk):
    path = f"readings/runs/{run['id']}/fits"
    weak = grower("post", path, walk(0.8))[1]["id"]
    FitChoice.objects.update(created_at=timezone.now() - timedelta(days=3))
    yesterday = str(date.today() - timedelta(days=2))
    grower("put", f"runs/{run['id']}/begin", {"on": yesterday})
    running = bench(grower, run, 45)
    assert running["made_of"]["fit"]["id"] == weak
    ended = str(date.today() - timedelta(days=1))
    assert grower("put", f"runs/{run['id']}/end", {"on": ended})[0] == 200
    later = grower("post", path, walk(1.1))[1]["id"]
    after = bench(grower, run, 45)
    assert after["made_of"]["fit"]["id"] == weak
    assert after["outcome"] == running["outcome"]
    # a run that goes on learns
    assert grower("delete", f"runs/{run['id']}/end")[0] == 200
    assert bench(grower, run, 45)["made_of"]["fit"]["id"] == later


def test_a_kept_fit_is_read_by_its_reader_and_refused_whole(grower, run, walk):
    asked = walk()
    made = grower("post", f"readings/runs/{run['id']}/fits", asked)[1]
    document = Fit.objects.get(pk=made["id"]).document
    assert read_kept_fit(document).whose[0].fixture == run["fixture_id"]
    assert [row["reading"] for row in document["readings"]] == pytest.approx(
        [row["reading"] for row in asked["rows"]]
    )


def test_readings_at_other_dials_are_put_to_the_light_of_the_dial(grower, run, walk):
    path = f"readings/runs/{run['id']}/fits/try"
    full, half = (grower("post", path, walk(0.9, dial=dial))[1] for dial in (100, 50))
    assert half["light_fraction"] < 0.6
    share = full["mean"]["true"]["middle"] / full["mean"]["planned"]
    assert half["mean"]["true"]["middle"] / half["mean"]["planned"] == pytest.approx(
        share, rel=0.02
    )
    status, problem = grower("post", path, walk() | {"rows": [walk()["rows"][0] | {"dial_pct": 1}]})
    assert (status, fields(problem)) == (422, ["rows"])
    assert "dial goes from" in problem["detail"]


def test_outermost_spots_can_be_put_where_they_were(grower, run, walk):
    path = f"readings/runs/{run['id']}/fits/try"
    rows = [row | {"x_cm": max(row["x_cm"], 1)} for row in walk()["rows"]]
    answer = grower("post", path, {"rows": rows, "edge_cm": 12})[1]
    assert sorted({row["x_cm"] for row in answer["residuals"]}) == [12, 60, 108]
    assert sorted({row["y_cm"] for row in answer["residuals"]}) == [12, 45, 78]


def test_a_dial_is_measured(grower):
    rows = [
        {"position_pct": 100, "watts": 300, "ppfd": [900, None]},
        {"position_pct": 50, "watts": 108, "ppfd": [355, None]},
    ]
    status, curve = grower("post", "readings/dial", {"rows": rows})
    assert status == 200
    low = curve["points"][0]
    assert low["row"]["watts_fraction"] == pytest.approx(0.36)
    assert low["light_low"] < low["row"]["light_fraction"] < low["light_high"]
    assert (curve["by_light"], curve["by_watts"], curve["notes"]) == (True, True, [])
    status, problem = grower("post", "readings/dial", {"rows": rows[:1]})
    assert (status, fields(problem)) == (422, ["readings"])


def test_a_change_is_told_from_the_noise(grower):
    body = {"before": [307, 167], "after": [432, 278], "again": [309, 166]}
    status, seen = grower("post", "readings/change", body)
    assert status == 200
    assert [spot["real"] for spot in seen["spots"]] == [True, True]
    assert grower("post", "readings/change", body | {"after": [1]})[0] == 422


def test_sensors_are_kept_changed_and_put_away(grower):
    status, made = grower("post", "readings/sensors", {"name": "Disc", "kind": "cheap"})
    assert (status, made["pairs"], made["removed"]) == (201, [], False)
    path = f"readings/sensors/{made['id']}"
    changed = grower("put", path, {"name": "Disc", "kind": "cheap", "factor": 1.04})[1]
    assert (changed["factor"], changed["version"]) == (1.04, made["version"] + 1)
    assert grower("put", f"{path}/aside", {"removed": True})[1]["removed"]
    status, problem = grower(
        "put", path, {"name": "Disc", "kind": "lux", "pairs": [[1, 9], [1, 1]]}
    )
    assert (status, fields(problem)) == (422, ["pairs"])
    assert grower("put", path, {"name": "Disc", "kind": "lux", "pairs": [[1]]})[0] == 422


def spots_of(rows):
    return [{k: row[k] for k in ("x_cm", "y_cm", "height_cm")} for row in rows]


def test_what_the_sensor_will_show_is_said_before_it_is_read(grower, run, walk):
    path = f"readings/runs/{run['id']}/fits/expect"
    rows, plan = walk(1.0)["rows"], walk(0.8)["rows"]
    status, blank = grower("post", path, {"spots": spots_of(rows)})
    assert status == 200
    for each, row in zip(blank, rows):
        # the plan's own light, and room for a lamp a fifth weaker
        assert each["middle"] == pytest.approx(row["reading"], rel=0.12)
        assert each["low"] < row["reading"] * 0.8
        assert each["high"] < row["reading"] * 3
    after = grower("post", path, {"rows": plan[:2], "spots": spots_of(plan)})[1]
    for each, wide, row in zip(after, blank, plan):
        assert each["low"] < row["reading"] < each["high"]
        assert each["high"] / each["low"] < (wide["high"] / wide["low"]) ** 0.6


def test_a_digit_too_many_is_never_believed(grower, run, walk):
    path = f"readings/runs/{run['id']}/fits/expect"
    rows = walk(0.9)["rows"]
    for count in range(5):
        found = grower("post", path, {"rows": rows[:count], "spots": spots_of(rows)})[1]
        for each, row in zip(found, rows):
            assert not each["low"] < row["reading"] * 10 < each["high"]
            assert not each["low"] < row["reading"] / 10 < each["high"]
            assert each["low"] < row["reading"] < each["high"]


def test_what_is_expected_is_told_in_the_sensors_own_unit(grower, run, walk):
    meter = grower("post", "readings/sensors", {"name": "Lux", "kind": "lux"})[1]
    path = f"readings/runs/{run['id']}/fits/expect"
    asked = {"spots": spots_of(walk()["rows"])}
    umol = grower("post", path, asked)[1][0]["middle"]
    lux = grower("post", path, asked | {"sensor_id": meter["id"]})[1][0]["middle"]
    assert 40 < lux / umol < 90


@pytest.mark.parametrize("spots", [[], [{"x_cm": 500, "y_cm": 10, "height_cm": 40}]])
def test_spots_that_cannot_be_are_refused(grower, run, spots):
    path = f"readings/runs/{run['id']}/fits/expect"
    assert grower("post", path, {"spots": spots})[0] == 422


def test_the_readings_speak_for_themselves_and_for_each_stage(grower, run, walk):
    path = f"readings/runs/{run['id']}/fits/try"
    answer = grower("post", path, walk(0.9))[1]
    alone = answer["walked"]
    shown = [row["reading"] for row in walk(0.9)["rows"]]
    assert (alone["count"], alone["height_cm"]) == (5, 45)
    assert alone["statistics"]["mean"] == pytest.approx(sum(shown) / 5)
    # the middle stands for more of the floor than a corner
    assert alone["statistics"]["area_mean"] > alone["statistics"]["mean"]
    assert alone["canopy_umol_s"] == pytest.approx(alone["statistics"]["area_mean"] * 1.08)
    assert 1 < alone["efficacy"] < 3.5
    assert 0.5 < alone["captured"] < alone["bound"]
    stages = grower.named("crops", "Potted chrysanthemums")["stages"]
    assert [each["name"] for each in answer["stages"]] == [stage["name"] for stage in stages]
    mean = answer["mean"]["true"]["middle"]
    for each in answer["stages"]:
        assert each["dli"] == pytest.approx(mean * each["hours"] * 0.0036, rel=1e-6)
        inside = each["dli_low"] <= each["dli"] <= each["dli_high"]
        assert (each["verdict"] == "enough") == inside
    dim = walk(0.9)
    for row in dim["rows"]:
        row["reading"] /= 4
    faint = grower("post", path, dim)[1]["stages"][-1]
    assert faint["dli"] < answer["stages"][-1]["dli"]


def test_lamps_that_follow_the_dial_are_read_together_and_others_are_off(grower, run, walk):
    lamp = {"fixture_id": run["fixture_id"], "y_cm": 45, "turn_deg": 90}
    board = grower.named("fixtures", "Button 40")["id"]
    lamps = [
        lamp | {"x_cm": 60},
        {"fixture_id": board, "x_cm": 20, "y_cm": 20, "own_dial_pct": 100, "raise_cm": 4},
    ]
    turned = grower("get", f"runs/{run['id']}/lamps")[1][0]["turn_deg"]
    lamps[0]["turn_deg"] = turned
    assert grower("put", f"runs/{run['id']}/lamps", {"lamps": lamps})[0] == 200
    here = grower("get", f"readings/runs/{run['id']}/fits")[1]
    assert here["lamps"] == ["Wickerlight Six"]
    grower("post", f"readings/runs/{run['id']}/fits", walk(0.8))
    sure = bench(grower, run, 45)["certainty"]
    # the board was not read: what is known of it is its record, and the tent
    assert sure["basis"] == "learnt"
    assert {"fit", "ppf"} <= {part["name"] for part in sure["parts"]}


def test_a_copy_of_the_plan_in_the_same_space_goes_by_the_fit_too(grower, run, walk):
    made = grower("post", f"readings/runs/{run['id']}/fits", walk(0.8))[1]
    copy = grower("post", f"runs/{run['id']}/copy", {"name": "Next"})[1]
    assert bench(grower, copy, 45)["made_of"]["fit"]["id"] == made["id"]
    own = grower("post", f"runs/{run['id']}/copy", {"name": "Apart", "own_space": True})[1]
    apart = bench(grower, own, 45)
    # its own space was not read; the lamp was
    assert apart["made_of"]["fit"] is None
    assert apart["certainty"]["basis"] == "learnt"


def test_inches_come_to_the_same_fit(grower, run, walk):
    path = f"readings/runs/{run['id']}/fits"
    asked = walk(0.8)
    metric = grower("post", f"{path}/try", asked)[1]["mean"]
    Grower.objects.update(length_unit="in")
    assert bench(grower, run, 45)["height_step_cm"] == pytest.approx(2.54 / 4)
    assert grower("post", f"{path}/try", asked)[1]["mean"] == metric


@pytest.mark.parametrize("change", [{"lining": "black"}, {"width_cm": 110}])
def test_a_tent_rebuilt_or_lined_anew_is_another(grower, run, walk, space, change):
    path = f"readings/runs/{run['id']}/fits"
    made = grower("post", path, walk(0.8))[1]
    assert not grower("get", path)[1]["changed_since"]
    body = {k: v for k, v in space.items() if k in BOX_ROOM} | change
    assert grower("put", f"spaces/{space['id']}", body)[0] == 200
    after = bench(grower, run, 45)
    assert after["made_of"]["fit"] is None
    # the lamp is the same: what was learnt of it stays
    assert after["certainty"]["basis"] == "learnt"
    here = grower("get", path)[1]
    assert (here["in_use"], here["changed_since"]) == (made["id"], True)
    # what it said of the tent as it was can still be looked at
    assert grower("get", f"{path}/{made['id']}")[1]["width_cm"] == space["width_cm"]
    # put back, it is the tent that was read
    back = {k: v for k, v in space.items() if k in BOX_ROOM}
    assert grower("put", f"spaces/{space['id']}", back)[0] == 200
    assert bench(grower, run, 45)["made_of"]["fit"]["id"] == made["id"]
