"""A grower in inches is told in inches: refusals, calendar, day table, ranking, notes."""

import re

import pytest

from server.runs.demo import BOX_ROOM
from tests.server.sent import WISHES, body_of, encoded

CM = re.compile(r"\bcm\b|_cm\b")


@pytest.fixture
def inches(grower):
    assert grower("put", "accounts/preferences", {"length_unit": "in"})[0] == 200
    return grower


def test_refusals_are_worded_in_inches_and_carry_their_code(inches, run, space):
    lamp = {"fixture_id": run["fixture_id"], "x_cm": 10, "y_cm": 45}
    status, problem = inches("put", f"runs/{run['id']}/lamps", {"lamps": [lamp]})
    assert (status, problem["said"]["code"]) == (422, "hang.sticks_out")
    # 98 cm wide, its middle 10 cm from the left: 39 cm stick out, 15.35 in
    assert "sticks out 15.35 in at the left side" in problem["detail"]
    assert problem["said"]["figures"]["by_cm"] == pytest.approx(39)
    step = {"x_cm": 100, "y_cm": 0, "width_cm": 30, "depth_cm": 30, "raise_cm": 10}
    problem = inches("put", f"spaces/{space['id']}", BOX_ROOM | {"stands": [step]})[1]
    assert "Step 1 reaches 3.94 in beyond the space" in problem["errors"][0]["sentence"]


def test_forms_and_tables_are_refused_in_inches_too(inches, space):
    problem = inches("put", f"spaces/{space['id']}", BOX_ROOM | {"width_cm": 10})[1]
    # 20 cm at least: 7.87 in
    assert problem["errors"][0]["sentence"] == "Width (in) has to be at least 7.87."
    lamp = inches.named("fixtures", "Tallow Board 100")
    wide = body_of(lamp) | {"frame_x_cm": 10.0}
    problem = inches("put", f"fixtures/{lamp['id']}", wide)[1]
    assert "more than the frame's 3.94 in" in problem["detail"]
    table = (
        "name,kind,ppf_umol_s,watts,frame_x_cm,frame_y_cm,body_cm,weight_kg,closest_cm,"
        "board_x_cm,board_y_cm\nLong,board,200,80,20,20,5,2,10,40,15\n"
    )
    found = inches("post", "fixtures/table", {"content": encoded(table)})[1]
    assert "15.75 in long this way" in found["troubles"][0]["sentence"]


def test_what_is_given_out_speaks_inches(inches, run):
    inches("put", f"runs/{run['id']}/wishes", WISHES)
    for part in ("season/table", "season/calendar"):
        text = inches("get", f"runs/{run['id']}/{part}")[1]["text"]
        assert not CM.search(text)
        assert " in" in text
    refused = [r["refused"] for r in inches("post", f"runs/{run['id']}/shelf", {})[1]["rows"]]
    assert any("does not go in" in why for why in refused)
    assert not CM.search(" ".join(refused))


def test_in_centimetres_nobody_is_told_inches(grower, run):
    text = grower("get", f"runs/{run['id']}/season/calendar")[1]["text"]
    assert "cm above the tops" in text.replace("\r\n ", "")
    assert not re.search(r"\d in\b", text)
