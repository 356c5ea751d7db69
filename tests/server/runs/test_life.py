"""A plan begins, is lived and ends: from its begin on its past stands, whatever is edited later."""

from datetime import date, timedelta

import pytest

from server.runs.demo import BOX_ROOM
from tests.server.conftest import fields
from tests.server.sent import LEVERS, MAP, SMALL_LDT, WISHES, body_of, crop_body, run_body


@pytest.fixture
def to(run):
    return f"runs/{run['id']}"


@pytest.fixture
def today(grower):
    return date.fromisoformat(grower("get", "accounts/session")[1]["grower"]["today"])


@pytest.fixture
def begun(grower, run, to, today):
    grower("put", f"{to}/lamps", {"lamps": [HUNG | {"fixture_id": run["fixture_id"]}]})
    status, found = grower("put", f"{to}/begin", {"on": str(today - timedelta(days=30))})
    assert status == 200
    return found


HUNG = {"x_cm": 58, "y_cm": 44, "tilt_deg": 2}


def all_of(grower, run, to):
    """Everything the run's screens show, by their addresses."""
    stages = [stage["stage_id"] for stage in grower("get", f"{to}/season")[1]["stages"]]
    shown = {path: grower("get", f"{to}/{path}") for path in ("season", "lamps", "headroom")}
    shown |= {stage: grower("get", f"{to}/stages/{stage}/bench") for stage in stages}
    assert {status for status, _ in shown.values()} == {200}
    return shown


def test_what_is_edited_later_never_changes_a_begun_run(grower, run, to, begun):
    before = all_of(grower, run, to)
    space = grower.named("spaces", BOX_ROOM["name"])
    lamp = grower.named("fixtures", "Wickerlight Six")
    crop = grower.named("crops", "Potted chrysanthemums")
    for path, body in (
        (f"spaces/{space['id']}", {**BOX_ROOM, "width_cm": 200, "tariff_per_kwh": 9, "pot_cm": 3}),
        (f"fixtures/{lamp['id']}", body_of(lamp) | {"ppf_umol_s": 100, "watts": 900}),
        (f"crops/{crop['id']}", crop_body(crop, stages=crop["stages"][:1], habit="carpet")),
        (f"spaces/{space['id']}/aside", {"removed": True}),
        (f"crops/{crop['id']}/aside", {"removed": True}),
        (f"fixtures/{lamp['id']}/shelf", {"removed": True}),
    ):
        assert grower("put", path, body)[0] == 200, path
    assert all_of(grower, run, to) == before
    # nor can it be given other things itself
    lettuce = grower.named("crops", "Lettuce")["id"]
    for path, body in (
        (to, run_body(run, crop_id=lettuce)),
        (to, run_body(run, over_cap=True)),
        (f"{to}/lamps", {"lamps": []}),
        (f"{to}/wishes", WISHES | {"aim": "even"}),
    ):
        status, problem = grower("put", path, body)
        assert (status, "Copy it" in problem["detail"]) == (422, True), path
    assert all_of(grower, run, to) == before


def test_a_plan_follows_what_it_is_made_of_until_it_begins(grower, run, to):
    before = all_of(grower, run, to)["season"][1]["cost"]
    grower("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "tariff_per_kwh": 0.93})
    assert all_of(grower, run, to)["season"][1]["cost"] == pytest.approx(3 * before)


def test_a_begun_run_and_the_plan_it_was_say_the_same(grower, run, to, today):
    # beginning it changes nothing but its first day
    grower("put", f"{to}/wishes", WISHES | {"started_on": str(today)})
    before = all_of(grower, run, to)
    begun = grower("put", f"{to}/begin", {})[1]
    assert begun["begun_on"] == begun["started_on"] == str(today)
    assert all_of(grower, run, to) == before


@pytest.mark.parametrize("light", ["map", "photometric"])
def test_it_takes_its_readings_files_and_own_lamps_along(grower, run, to, light):
    lamp = f"fixtures/{run['fixture_id']}"
    if light == "map":
        assert grower("post", f"{lamp}/maps", MAP)[0] == 201
    else:
        body = {"text": SMALL_LDT, "unit": "umol/s/sr"}
        assert grower("put", f"{lamp}/photometry", body)[0] == 200
    piece = {"name": "Mine", "burned_h": 9000, "watts": 222}
    made = grower("post", f"{lamp}/pieces", piece)[1]["pieces"][0]
    hung = HUNG | {"fixture_id": run["fixture_id"], "piece_id": made["id"]}
    assert grower("put", f"{to}/lamps", {"lamps": [hung]})[0] == 200
    before = all_of(grower, run, to)
    assert grower("put", f"{to}/begin", {})[0] == 200
    assert all_of(grower, run, to) == before
    # what becomes of them later is no matter of the run's
    grower("put", f"{lamp}/light-source", {"light_source": "model"})
    grower("put", f"fixtures/pieces/{made['id']}", {"name": "Mine", "watts": 400})
    assert all_of(grower, run, to) == before


def test_the_day_it_begins_is_its_growers(grower, run, to, today):
    status, problem = grower("put", f"{to}/begin", {"on": str(today + timedelta(days=1))})
    assert (status, fields(problem)) == (422, ["on"])
    early = today - timedelta(days=3)
    begun = grower("put", f"{to}/begin", {"on": str(early)})[1]
    assert begun["started_on"] == str(early)
    assert grower("put", f"{to}/begin", {})[0] == 422


def test_stages_begin_when_the_grower_says(grower, to, begun, today):
    first, second, third = (row["stage_id"] for row in begun["lived"])
    assert begun["stage_id"] == first
    on = {"on": str(today - timedelta(days=10))}
    found = grower("put", f"{to}/stages/{second}/begin", on)[1]
    assert [(row["began_on"], row["ended_on"]) for row in found["lived"]] == [
        (begun["begun_on"], on["on"]),
        (on["on"], None),
        (None, None),
    ]
    assert found["stage_id"] == second
    # before the one it is in, after today, and twice it cannot
    for stage, day in ((third, today - timedelta(days=11)), (third, today + timedelta(days=1))):
        status, problem = grower("put", f"{to}/stages/{stage}/begin", {"on": str(day)})
        assert (status, fields(problem)) == (422, ["on"])
    assert grower("put", f"{to}/stages/{second}/begin", {})[0] == 422
    # taken back the one before goes on
    assert grower("delete", f"{to}/stages/{first}/begin")[0] == 422
    back = grower("delete", f"{to}/stages/{second}/begin")[1]
    assert back["lived"] == begun["lived"]
    assert grower("delete", f"{to}/stages/{first}/begin")[0] == 422


def test_a_run_ends_and_goes_on_when_that_was_a_mistake(grower, to, begun, today):
    assert grower("put", f"{to}/end", {"on": "2001-01-01"})[0] == 422
    ended = grower("put", f"{to}/end", {})[1]
    assert ended["ended_on"] == ended["lived"][0]["ended_on"] == str(today)
    second = ended["lived"][1]["stage_id"]
    for method, path in (("put", "end"), ("put", f"stages/{second}/begin"), ("delete", "begin")):
        assert grower(method, f"{to}/{path}", {})[0] == 422
    assert grower("post", f"{to}/settings", SET | {"stage_id": second})[0] == 422
    back = grower("delete", f"{to}/end")[1]
    assert back["lived"] == begun["lived"]
    assert grower("delete", f"{to}/end")[0] == 422


SET = {"kind": "set", "windows": [{"on_minute": 360, "hours": 11}], "dial_pct": 60}


def test_a_begin_by_mistake_is_taken_back_until_something_was_kept(grower, run, to, begun):
    back = grower("delete", f"{to}/begin")[1]
    assert (back["begun_on"], back["lived"]) == (None, [])
    # it follows its space again
    before = all_of(grower, run, to)["season"][1]["cost"]
    grower("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "tariff_per_kwh": 0.62})
    assert all_of(grower, run, to)["season"][1]["cost"] == pytest.approx(2 * before)
    again = grower("put", f"{to}/begin", {})[1]
    # and begins with what is there now
    grower("put", f"spaces/{run['space_id']}", {**BOX_ROOM, "tariff_per_kwh": 0.31})
    assert all_of(grower, run, to)["season"][1]["cost"] == pytest.approx(2 * before)
    stage = again["lived"][0]["stage_id"]
    assert grower("post", f"{to}/settings", SET | {"stage_id": stage})[0] == 201
    status, problem = grower("delete", f"{to}/begin")
    assert (status, "its past stays" in problem["detail"]) == (422, True)


def test_nothing_a_run_stands_on_can_vanish(grower, run, to, begun):
    from django.db.models import RestrictedError  # noqa: PLC0415 - models are not ready before

    from server.accounts.models import Grower  # noqa: PLC0415
    from server.crops.models import Crop, Stage  # noqa: PLC0415
    from server.fixtures.models import Fixture  # noqa: PLC0415
    from server.runs.models import Run  # noqa: PLC0415
    from server.spaces.models import Space  # noqa: PLC0415

    for model, pk in (
        (Space, run["space_id"]),
        (Fixture, run["fixture_id"]),
        (Crop, run["crop_id"]),
        (Stage, begun["lived"][2]["stage_id"]),
    ):
        with pytest.raises(RestrictedError):
            model.objects.get(pk=pk).delete()
    # an account goes as a whole
    Grower.objects.get(name="Ada").delete()
    assert not Run.objects.exists()


def test_a_copy_is_a_plan_with_all_of_it(grower, run, to, begun):
    stage = begun["lived"][1]["stage_id"]
    grower("put", f"{to}/stages/{stage}/setting", {**LEVERS, "on_minute": 300})
    status, copy = grower("post", f"{to}/copy", {"name": "Once more"})
    assert (status, copy["name"], copy["copied_from_id"]) == (201, "Once more", run["id"])
    assert (copy["begun_on"], copy["lived"]) == (None, [])
    assert run_body(copy) == run_body(run)
    lamps = grower("get", f"runs/{copy['id']}/lamps")[1]
    assert [(lamp["x_cm"], lamp["tilt_deg"]) for lamp in lamps] == [(58, 2)]
    bench = grower("get", f"runs/{copy['id']}/stages/{stage}/bench")[1]
    assert (bench["kept"], bench["on_minute"]) == (True, 300)
    # what is tried there leaves the run alone
    grower("delete", f"runs/{copy['id']}/stages/{stage}/setting")
    grower("put", f"runs/{copy['id']}/lamps", {"lamps": []})
    assert grower("get", f"{to}/stages/{stage}/bench")[1]["kept"]
    assert grower("get", f"{to}/lamps")[1][0]["x_cm"] == 58


def test_plans_have_names_and_can_be_put_away(grower, run, to):
    assert run["name"] == ""
    assert grower("put", f"{to}/name", {"name": "For the show"})[1]["name"] == "For the show"
    assert grower("put", f"{to}/name", {"name": "x" * 81})[0] == 422
    assert grower("put", f"{to}/aside", {"removed": True})[1]["removed"]
    assert grower("get", "runs")[1][0]["removed"]
    assert not grower("put", f"{to}/aside", {"removed": False})[1]["removed"]


def test_a_run_is_given_out_as_a_run_file(grower, to, begun):
    from canopy.formats.runfile import read_run_text  # noqa: PLC0415

    file = grower("get", f"{to}/file")[1]
    read = read_run_text(file["text"])
    assert read.ignored == ()
    assert read.space["name"] == BOX_ROOM["name"]
    assert [lamp["x_cm"] for lamp in read.lamps] == [58]
    assert read.wishes["started_on"].isoformat() == begun["begun_on"]
    assert [stage["id"] for stage in read.crop["stages"]] == [
        row["stage_id"] for row in begun["lived"]
    ]
