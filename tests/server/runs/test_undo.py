"""What was changed of a plan, in any place, taken back and made again."""

import random

import pytest

from server.changes.models import Change
from server.changes.services import MOST_CHANGES
from server.runs.demo import BOX_ROOM
from tests.server.sent import LEVERS, MAP, WISHES, body_of, crop_body, run_body

ASIDE = ("version", "changed_at", "tariffs", "tariff_from")  # prices are appended, and corrected so


@pytest.fixture
def to(run):
    return f"runs/{run['id']}"


@pytest.fixture
def stage(grower):
    return grower.named("crops", "Potted chrysanthemums")["stages"][1]["id"]


def standing(grower, run):
    """All that can be seen of a plan and of what it follows."""

    def plain(path):
        return [{k: v for k, v in row.items() if k not in ASIDE} for row in grower("get", path)[1]]

    to = f"runs/{run['id']}"
    plans = plain("runs")
    (me,) = (row for row in plans if row["id"] == run["id"])
    season = grower("get", f"{to}/season")[1]
    # a stage that comes back may be another row
    names = {s["id"]: s["name"] for crop in grower("get", "crops")[1] for s in crop["stages"]}
    me["stage_id"] = names[me["stage_id"]]
    return {
        "run": me,
        "lamps": grower("get", f"{to}/lamps")[1],
        "spaces": plain("spaces"),
        "crops": [
            {**row, "stages": [without_id(s) for s in row["stages"]]} for row in plain("crops")
        ],
        "fixtures": plain("fixtures"),
        "stages": [
            (s["name"], s["from_day"], s["days"], s["planned"] and s["planned"]["setting"])
            for s in season["stages"]
        ],
        "kept": [s["planned"]["kept"] for s in season["stages"] if s["planned"]],
        "groups": [s["planned"]["groups"] for s in season["stages"] if s["planned"]],
        "kwh": season["kwh"],
        "cost": season["cost"],
    }


def without_id(stage):
    return {name: value for name, value in stage.items() if name != "id"}


LAMP = {"x_cm": 60, "y_cm": 45, "turn_deg": 0, "tilt_deg": 0, "raise_cm": 0, "bars_off": []}


@pytest.fixture
def moves(grower, run, to, stage):
    """Changes a grower makes, in every place; each differs from what is there."""
    other = grower("post", "spaces", {**BOX_ROOM, "name": "Other room", "width_cm": 130})[1]
    crop = grower.named("crops", "Potted chrysanthemums")
    six = grower.named("fixtures", "Wickerlight Six")
    four = grower.named("fixtures", "Wickerlight Four")["id"]
    lamp_at = {"fixture_id": six["id"], **LAMP}
    shorter = [{**s, "days": s["days"] - 1} for s in crop["stages"]][:-1]
    return [
        ("put", f"{to}/stages/{stage}/setting", {**LEVERS, "on_minute": 300}),
        ("put", f"{to}/stages/{stage}/setting", {**LEVERS, "on_minute": 360, "hours": 15}),
        ("put", f"{to}/stages/{stage}/changes/4", None),
        ("put", f"{to}/lamps", {"lamps": [lamp_at, {**lamp_at, "x_cm": 50, "group": 1}]}),
        ("put", f"{to}/stages/{stage}/groups/1", {"dial_pct": 30}),
        ("delete", f"{to}/stages/{stage}/setting", None),
        ("put", f"{to}/wishes", {**WISHES, "aim": "even"}),
        ("put", f"{to}/name", {"name": "For the show"}),
        ("put", to, run_body(run, fixture_id=four)),
        ("put", to, run_body(run, space_id=other["id"])),
        ("put", to, run_body(run)),
        ("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "lining": "black", "hangers_cm": 12}),
        ("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "tariff_per_kwh": 0.91}),
        ("put", f"crops/{crop['id']}", crop_body(crop, stages=shorter, name="Shorter")),
        ("put", f"crops/{crop['id']}", crop_body(crop)),
        ("put", f"fixtures/{six['id']}", {**body_of(six), "watts": six["watts"] + 20}),
        ("post", f"fixtures/{six['id']}/maps", MAP),
        ("put", f"fixtures/{six['id']}/light-source", {"light_source": "model"}),
    ]


@pytest.mark.parametrize("seed", [None, 1, 2])
def test_every_change_is_taken_back_step_by_step_and_made_again(grower, run, to, moves, seed):
    """Whatever was changed, in whatever order: what stood before stands again."""
    if seed is not None:
        moves = random.Random(seed).sample(moves, 9)
    seen = [standing(grower, run)]
    for move in moves:
        assert grower(*move)[0] in (200, 201, 204), move
        steps = Change.objects.count() - len(seen) + 1
        assert steps in (0, 1), "one deed is one step"
        if steps:
            seen.append(standing(grower, run))
    # maps stay with their lamp, and plans stand as they did
    for each in seen:
        for lamp in each["fixtures"]:
            lamp.pop("maps")
    for before in reversed(seen[:-1]):
        status, back = grower("post", f"{to}/undo")
        assert status == 200, back
        now = standing(grower, run)
        [lamp.pop("maps") for lamp in now["fixtures"]]
        assert now == before, back["what"]
    for after in seen[1:]:
        status, again = grower("post", f"{to}/redo")
        assert status == 200, again
        now = standing(grower, run)
        [lamp.pop("maps") for lamp in now["fixtures"]]
        assert now == after, again["what"]
    assert grower("post", f"{to}/redo")[0] == 422


def test_nothing_left_is_said_and_a_new_change_ends_what_could_be_made_again(grower, to, stage):
    path = f"{to}/stages/{stage}/setting"
    empty = grower("post", f"{to}/undo")
    assert (empty[0], "Nothing of this plan is left" in empty[1]["detail"]) == (422, True)
    for hours in (10, 11, 12):
        grower("put", path, {**LEVERS, "hours": hours, "on_minute": 0})
    back = grower("post", f"{to}/undo")[1]
    assert (back["what"], back["stage_id"]) == ("levers", stage)
    assert grower("get", f"{to}/stages/{stage}/bench")[1]["setting"]["hours"] == 11
    grower("put", path, {**LEVERS, "hours": 9, "on_minute": 0})
    assert grower("post", f"{to}/redo")[0] == 422
    grower("post", f"{to}/undo")
    assert grower("get", f"{to}/stages/{stage}/bench")[1]["setting"]["hours"] == 11
    # the history keeps all that was, and what was taken back
    assert len(grower("get", f"{to}/settings")[1]) == 6


def test_the_last_twenty_can_be_taken_back(grower, to, stage):
    for hours in range(MOST_CHANGES + 3):
        grower("put", f"{to}/name", {"name": f"Plan {hours}"})
    for _ in range(MOST_CHANGES):
        assert grower("post", f"{to}/undo")[0] == 200
    assert grower("get", "runs")[1][0]["name"] == "Plan 2"
    assert grower("post", f"{to}/undo")[0] == 422
    assert Change.objects.count() == MOST_CHANGES


def test_what_changes_nothing_or_was_sent_twice_is_no_step(grower, run, to, stage):
    body = {**LEVERS, "on_minute": 0}
    key = {"HTTP_IDEMPOTENCY_KEY": "7a1ad6ea-2a0c-4c8e-9a0f-5f1f2f3f4f5f"}
    path = f"/api/{to}/stages/{stage}/setting"
    for _ in range(2):
        sent = grower.client.put(path, body, content_type="application/json", **key)
        assert sent.status_code == 200
    grower("put", to, run_body(run))
    grower("put", f"spaces/{run['space_id']}", BOX_ROOM)
    assert Change.objects.count() == 1


def test_a_begun_run_keeps_what_it_stands_on(grower, run, to, stage):
    grower("put", f"{to}/wishes", {**WISHES, "aim": "even"})
    grower("put", f"{to}/stages/{stage}/setting", {**LEVERS, "on_minute": 0})
    grower("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "lining": "black"})
    grower("put", f"{to}/begin", {})
    assert grower("post", f"{to}/undo")[1]["what"] == "levers"
    assert grower("post", f"{to}/undo")[0] == 422
    assert grower("get", "runs")[1][0]["aim"] == "even"
    assert grower("get", "spaces")[1][0]["lining"] == "black"
    grower("put", f"{to}/end", {})
    ended = grower("post", f"{to}/redo")
    assert (ended[0], "has ended" in ended[1]["detail"]) == (422, True)


def test_one_plan_does_not_take_back_anothers_changes(grower, run, to):
    copy = grower("post", f"{to}/copy", {"name": "Beside", "own_space": True})[1]
    grower("put", f"spaces/{copy['space_id']}", {**BOX_ROOM, "lining": "black"})
    grower("put", f"runs/{copy['id']}/name", {"name": "Black walls"})
    assert grower("post", f"{to}/undo")[0] == 422
    assert grower("post", f"runs/{copy['id']}/undo")[1]["what"] == "name"
    assert grower("post", f"runs/{copy['id']}/undo")[1]["what"] == "space"
    rooms = grower("get", "spaces")[1]
    assert [row["lining"] for row in rooms] == [BOX_ROOM["lining"]] * 2


def test_what_can_no_longer_be_turned_is_said_and_gives_way_to_the_one_before(grower, run, to):
    grower("put", f"{to}/name", {"name": "Kept"})
    six = run["fixture_id"]
    hung = [{"fixture_id": six, **LAMP, "x_cm": 40}, {"fixture_id": six, **LAMP, "x_cm": 85}]
    wide = {**BOX_ROOM, "width_cm": 200}
    grower("put", f"spaces/{run['space_id']}", wide)
    other = grower("post", f"{to}/copy", {"name": "Also there"})[1]
    for lamps in ([{**hung[0], "x_cm": 150}], []):
        assert grower("put", f"{to}/lamps", {"lamps": lamps})[0] == 200
    # the other plan takes the wide room back; the lamp no longer goes in at 150 cm
    assert grower("post", f"runs/{other['id']}/undo")[1]["what"] == "space"
    refused = grower("post", f"{to}/undo")
    assert refused[0] == 422
    assert "can no longer be turned" in refused[1]["detail"]
    while (back := grower("post", f"{to}/undo"))[0] == 200 and back[1]["what"] != "name":
        pass
    assert back[1]["what"] == "name"
    assert next(row["name"] for row in grower("get", "runs")[1] if row["id"] == run["id"]) == ""
