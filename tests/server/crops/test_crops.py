"""Crops and their stages: what is kept and what is refused with which sentence."""

import pytest

from tests.server.conftest import fields
from tests.server.sent import LEVERS, crop_body


def test_a_crop_keeps_its_stages_by_id(grower):
    crop = grower.named("crops", "Potted chrysanthemums")
    first, second, third = crop["stages"]
    new = {**first, "id": None, "name": "Rooting"}
    body = {"name": "Mine", "habit": "carpet", "stages": [new, third, second]}
    _, kept = grower("put", f"crops/{crop['id']}", body)
    assert [stage["name"] for stage in kept["stages"]] == ["Rooting", third["name"], second["name"]]
    assert [stage["id"] for stage in kept["stages"]][1:] == [third["id"], second["id"]]
    assert (kept["name"], kept["habit"]) == ("Mine", "carpet")


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"dli_low": 50}, "stages.1.dli_low"),
        ({"hours_high": 30}, "stages.1.hours_high"),
        ({"days": 0}, "stages.1.days"),
        ({"plant_start_cm": 90}, "stages.1.plant_end_cm"),
        ({"response": "sometimes"}, "stages.1.response"),
        ({"ppfd_low": 200}, "stages.1.ppfd_high"),
    ],
)
def test_stages_that_cannot_be(grower, change, field):
    crop = grower.named("crops", "Potted chrysanthemums")
    stages = [*crop["stages"]]
    stages[1] = {**stages[1], **change}
    body = {"name": "x", "habit": "pots", "stages": stages}
    status, problem = grower("put", f"crops/{crop['id']}", body)
    assert (status, fields(problem)) == (422, [field])
    assert grower.named("crops", "Potted chrysanthemums") == crop


def test_a_stage_listed_twice(grower):
    crop = grower.named("crops", "Lettuce")
    body = {"name": "x", "habit": "pots", "stages": [crop["stages"][0]] * 2}
    assert fields(grower("put", f"crops/{crop['id']}", body)[1]) == ["stages"]


def test_a_canopy_table_answers_for_every_habit(grower, space):
    # a habit the form offers must have a reflectance, or its bench would fail
    lamp = grower.named("fixtures", "Wickerlight Six")
    crop = grower.named("crops", "Lettuce")
    for habit in ("pots", "carpet"):
        grower(
            "put", f"crops/{crop['id']}", {"name": "L", "habit": habit, "stages": crop["stages"]}
        )
        body = {"space_id": space["id"], "fixture_id": lamp["id"], "crop_id": crop["id"]}
        run = grower("post", "runs", body)[1]
        assert grower("get", f"runs/{run['id']}/stages/{run['stage_id']}/bench")[0] == 200


def test_a_stage_left_out_comes_back_with_its_settings_when_a_run_stands_on_it(grower, run):
    crop = grower.named("crops", "Potted chrysanthemums")
    first, second, third = crop["stages"]
    path = f"runs/{run['id']}/stages/{second['id']}"
    assert grower("put", f"{path}/setting", {**LEVERS, "on_minute": 0})[0] == 200
    kept = grower("get", f"{path}/bench")[1]["setting"]
    left = grower("put", f"crops/{crop['id']}", crop_body(crop, stages=[first, third]))[1]
    assert [stage["id"] for stage in left["stages"]] == [first["id"], third["id"]]
    # it goes from the plan, and its settings with it
    assert grower("get", f"{path}/bench")[0] == 404
    season = grower("get", f"runs/{run['id']}/season")[1]
    assert [stage["stage_id"] for stage in season["stages"]] == [first["id"], third["id"]]
    back = grower("put", f"crops/{crop['id']}", crop_body(crop))[1]
    assert [stage["id"] for stage in back["stages"]] == [s["id"] for s in crop["stages"]]
    bench = grower("get", f"{path}/bench")[1]
    assert (bench["kept"], bench["setting"]) == (True, kept)


def test_stages_nobody_stands_on_do_not_pile_up(grower):
    from server.crops.models import Stage  # noqa: PLC0415 - models are not ready before

    crop = grower.named("crops", "Lettuce")
    stages = [{**stage, "id": None} for stage in crop["stages"]]
    before = Stage.objects.count()
    for _ in range(3):
        assert grower("put", f"crops/{crop['id']}", crop_body(crop, stages=stages))[0] == 200
    assert Stage.objects.count() == before


def test_a_crop_is_put_away_and_brought_back(grower, run):
    path = f"crops/{run['crop_id']}/aside"
    assert grower("put", path, {"removed": True})[1]["removed"]
    assert grower("get", f"runs/{run['id']}/season")[0] == 200
    assert not grower("put", path, {"removed": False})[1]["removed"]


def test_a_stage_asked_for_by_ppfd_alone_has_the_days_light_that_follows(grower):
    crop = grower.named("crops", "Potted chrysanthemums")
    stage = {**crop["stages"][0], "id": None, "dli_low": None, "dli_high": None}
    alone = {"ppfd_low": 200, "ppfd_high": 400, "hours_low": 18, "hours_high": 18}
    body = {"name": "By PPFD", "habit": "pots", "stages": [{**stage, **alone}]}
    status, made = grower("post", "crops", body)
    # 200 to 400 umol over 18 h are 13 to 26 mol; common practice sets one beside the other
    assert status == 201
    assert made["stages"][0]["dli_low"] == pytest.approx(13, abs=0.05)
    assert made["stages"][0]["dli_high"] == pytest.approx(26, abs=0.1)
    for change, field in (
        ({"ppfd_low": None, "ppfd_high": None}, "stages.0.dli_low"),
        ({"ppfd_low": None}, "stages.0.dli_low"),
        ({"dli_high": 20}, "stages.0.dli_low"),
        ({"hours_low": 0}, "stages.0.hours_low"),
        ({"hours_high": 1e300}, "stages.0.hours_high"),
    ):
        body["stages"] = [{**stage, **alone, **change}]
        status, problem = grower("post", "crops", body)
        assert (status, fields(problem)) == (422, [field])


def test_the_words_of_plant_labels_come_to_bands(grower):
    labels = {row["key"]: row for row in grower("get", "crops/labels")[1]}
    # from memory of extension guides: full sun, 6 to 8 h, about 20 to 30 mol; low light 2 to 5
    assert (labels["bright-direct"]["dli_low"], labels["bright-direct"]["dli_high"]) == (20, 30)
    assert (labels["low"]["dli_low"], labels["low"]["dli_high"]) == (2, 5)
