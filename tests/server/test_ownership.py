"""One grower never sees another's rows."""

import pytest

from server.runs.demo import BOX_ROOM
from tests.core.formats.test_photometric import ldt
from tests.server.test_season import WISHES

SMALL_LDT = ldt(size=(0, 0))
OUT_ONLY = (
    "id",
    "efficacy_umol_j",
    "photometry",
    "light_source",
    "light_map_id",
    "maps",
    "light",
    "findings",
    "trust",
    "trouble",
    "removed",
)
MAP = {
    "name": "Walk",
    "text": "x_cm,y_cm,height_cm,ppfd\n60,45,40,500\n",
    "width_cm": 120,
    "depth_cm": 90,
    "lining": "silver",
}
LEVERS = {"height_cm": 40, "dial_pct": 50, "hours": 11}


@pytest.fixture
def paths(grower, space, run):
    """Every address with an id of Ada's, and a body that would be good there."""
    stage = run["stage_id"]
    lamp = grower.named("fixtures", "Wickerlight Six")
    crop = grower.named("crops", "Potted chrysanthemums")
    made = grower("post", f"fixtures/{lamp['id']}/maps", MAP)[1]["maps"][0]
    run_body = {k: run[k] for k in ("space_id", "fixture_id", "crop_id")}
    lamp_body = {k: v for k, v in lamp.items() if k not in OUT_ONLY}
    crop_body = {"name": "x", "habit": "pots", "stages": crop["stages"]}
    return [
        ("put", f"spaces/{space['id']}", BOX_ROOM),
        ("put", f"fixtures/{lamp['id']}", lamp_body),
        ("get", f"fixtures/{lamp['id']}/file", None),
        ("put", f"fixtures/{lamp['id']}/shelf", {"removed": False}),
        ("get", f"fixtures/{lamp['id']}/spectrum", None),
        ("put", f"fixtures/{lamp['id']}/spectrum", {"text": "400,1\n700,1\n"}),
        ("put", f"fixtures/{lamp['id']}/photometry", {"text": SMALL_LDT, "unit": "umol/s/sr"}),
        ("put", f"fixtures/{lamp['id']}/light-source", {"light_source": "photometric"}),
        ("put", f"fixtures/{lamp['id']}/maps/{made['id']}", {"removed": False}),
        ("get", f"fixtures/{lamp['id']}/maps/{made['id']}/table", None),
        (
            "put",
            f"fixtures/{lamp['id']}/light-source",
            {"light_source": "map", "map_id": made["id"]},
        ),
        ("put", f"crops/{crop['id']}", crop_body),
        ("put", f"runs/{run['id']}", run_body),
        ("get", f"runs/{run['id']}/lamps", None),
        ("get", f"runs/{run['id']}/lamps/another?fixture_id={lamp['id']}", None),
        ("put", f"runs/{run['id']}/lamps", {"lamps": []}),
        ("get", f"runs/{run['id']}/season", None),
        ("get", f"runs/{run['id']}/season/table", None),
        ("get", f"runs/{run['id']}/season/calendar", None),
        ("put", f"runs/{run['id']}/wishes", WISHES),
        ("get", f"runs/{run['id']}/stages/{stage}/opinions", None),
        ("post", f"runs/{run['id']}/shelf", {}),
        ("post", f"runs/{run['id']}/compare", {"lamps": [{"fixture_id": lamp["id"]}] * 2}),
        ("get", f"runs/{run['id']}/headroom", None),
        ("get", f"runs/{run['id']}/stages/{stage}/bench", None),
        ("post", f"runs/{run['id']}/bench", {"stage_id": stage, **LEVERS}),
        ("put", f"runs/{run['id']}/stages/{stage}/setting", {**LEVERS, "on_minute": 0}),
    ]


def test_what_is_not_yours_is_not_there(grower, stranger, paths, run):
    for method, path, body in paths:
        assert grower(method, path, body)[0] == 200, path
        assert stranger(method, path, body)[0] == 404, path
    for path in ("spaces", "runs"):
        assert stranger("get", path) == (200, [])
    # nor can another's rows be put into a run of one's own
    body = {k: run[k] for k in ("space_id", "fixture_id", "crop_id")}
    assert stranger("post", "runs", body)[0] == 404
    assert stranger("post", f"fixtures/{run['fixture_id']}/maps", MAP)[0] == 404


def test_another_growers_lamp_cannot_be_hung(grower, stranger, run):
    theirs = stranger.named("fixtures", "Wickerlight Six")["id"]
    lamp = {"fixture_id": theirs, "x_cm": 60, "y_cm": 45}
    assert grower("put", f"runs/{run['id']}/lamps", {"lamps": [lamp]})[0] == 404


def test_a_stage_of_another_crop_is_not_there(grower, run):
    other = grower.named("crops", "Lettuce")["stages"][0]["id"]
    assert grower("get", f"runs/{run['id']}/stages/{other}/bench")[0] == 404


def test_strangers_are_asked_to_sign_in(client, paths):
    for method, path, _ in paths:
        reply = getattr(client, method)(f"/api/{path}", content_type="application/json")
        assert reply.status_code == 401, path
