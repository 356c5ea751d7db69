"""Spaces, fixtures and crops: what is kept and what is refused with which sentence."""

import json

import pytest
from django.test import Client

from canopy.formats.lm63 import read_lm63
from server.runs.demo import BOX_ROOM
from tests.core.formats.test_photometric import lm63


def fields(problem):
    return [error["field"] for error in problem["errors"]]


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"width_cm": -120}, "width_cm", "at least 20"),
        ({"width_cm": 1e300}, "width_cm", "at most 1000"),
        ({"height_cm": 30}, "height_cm", "at least 40"),
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
    assert kept == {**space, "width_cm": 100}


LAMP = {
    "name": "Test board",
    "kind": "board",
    "layout": {"board_x_cm": 40, "board_y_cm": 20},
    "ppf_umol_s": 500,
    "watts": 200,
    "dial_kind": "continuous",
    "dial_table": [
        {"position_pct": 10, "watts_fraction": 0.1, "light_fraction": 0.12},
        {"position_pct": 100, "watts_fraction": 1, "light_fraction": 1},
    ],
    "frame_x_cm": 42,
    "frame_y_cm": 22,
    "body_cm": 6,
    "weight_kg": 2,
    "closest_cm": 15,
}


def test_a_lamp_is_added(grower):
    status, lamp = grower("post", "fixtures", LAMP)
    assert status == 201
    assert lamp["efficacy_umol_j"] == pytest.approx(2.5)
    assert grower.named("fixtures", "Test board") == lamp


def falling():
    rows = [dict(row) for row in LAMP["dial_table"]]
    rows[1]["light_fraction"] = 0.1
    return rows


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"ppf_umol_s": -5}, "ppf_umol_s"),
        ({"layout": {"board_x_cm": 40}}, "layout.board_y_cm"),
        ({"layout": {"ring_cm": 20, "glow": 2}}, "layout.glow"),
        ({"layout": {}}, "layout"),
        ({"frame_x_cm": 30}, "frame_x_cm"),
        ({"dial_table": falling()}, "dial_table.1.light_fraction"),
        ({"dial_table": []}, "dial_table"),
        ({"maker_low_cm": 60, "maker_high_cm": 30}, "maker_low_cm"),
        ({"note": "a\x00b"}, "note"),
    ],
)
def test_lamps_that_cannot_be(grower, change, field):
    status, problem = grower("post", "fixtures", {**LAMP, **change})
    assert (status, fields(problem)) == (422, [field])


def test_a_light_file_is_attached_and_used_or_not(grower):
    lamp = grower("post", "fixtures", {**LAMP, "frame_y_cm": 62})[1]
    path = f"fixtures/{lamp['id']}"
    text = lm63(size="0.2 0.6 0")
    problem = grower("put", f"{path}/photometry", {"text": text})[1]
    # candela need the spectrum's lumens per umol
    assert fields(problem) == ["spectrum_factor"]
    status, kept = grower("put", f"{path}/photometry", {"text": text, "spectrum_factor": 70})
    assert (status, kept["light_source"]) == (200, "photometric")
    assert kept["photometry"]["ppf_umol_s"] == pytest.approx(read_lm63(text).downward_flux() / 70)
    back = grower("put", f"{path}/light-source", {"light_source": "model"})[1]
    assert back["light_source"] == "model"
    assert back["photometry"] == kept["photometry"]
    # a file of a larger lamp, one that is none, and a lamp without a file
    for bad, field in ((lm63(size="0.9 0.6 0"), "text"), ("nonsense", "file")):
        problem = grower("put", f"{path}/photometry", {"text": bad, "spectrum_factor": 70})[1]
        assert fields(problem) == [field]
    assert grower.named("fixtures", "Test board") == back
    bare = grower.named("fixtures", "Wickerlight Six")["id"]
    problem = grower("put", f"fixtures/{bare}/light-source", {"light_source": "photometric"})[1]
    assert fields(problem) == ["light_source"]


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


def test_the_page_and_its_headers(db):
    page = Client().get("/bench")
    policy = page["Content-Security-Policy"]
    assert "unsafe-inline" not in policy
    assert "default-src 'none'" in policy
    assert page["X-Frame-Options"] == "DENY"
    assert "no-store" in page["Cache-Control"]
    assert Client().get("/api/nowhere").status_code == 404
