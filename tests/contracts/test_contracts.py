"""What other parts rely on: the API's document, the client made from it, the tree, the locks."""

import json
import re
import shutil
import subprocess
import time
from collections import Counter
from importlib import import_module
from pathlib import Path
from uuid import UUID

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from benchmarks.__main__ import PARTS
from server.config.api import api
from tests.server.sent import WALK

ROOT = Path(__file__).parents[2]
SNAPSHOT = ROOT / "tests" / "contracts" / "openapi.json"


def test_the_api_is_the_one_agreed():
    document = json.loads(json.dumps(api.get_openapi_schema(), sort_keys=True))
    assert document == json.loads(SNAPSHOT.read_text()), "run: make client"


def test_the_client_is_not_stale(tmp_path):
    npx = shutil.which("npx")
    assert npx, "Node is needed for this test"
    made = tmp_path / "schema.d.ts"
    command = [npx, "--no-install", "openapi-typescript", str(SNAPSHOT), "-o", str(made)]
    subprocess.run(command, cwd=ROOT / "web", check=True, capture_output=True)
    assert made.read_text() == (ROOT / "web/src/api/schema.d.ts").read_text(), "run: make client"


def test_every_part_of_the_core_has_its_tests():
    def parts(folder, start):
        return {
            p.relative_to(folder).parent / p.stem.removeprefix(start) for p in folder.rglob("*.py")
        }

    tested = parts(ROOT / "tests/core", "test_")
    untested = {
        part
        for part in parts(ROOT / "src/canopy", "")
        if part not in tested
        and part.name not in ("__init__", "errors", "constants")
        # small modules of an area are tested together, under the area's name
        and part.parent / part.parent.name not in tested
    }
    # these are exercised through the tests named beside them
    through = {
        "cli": "formats/test_scene",
        "formats/reader": "formats/test_scene",
        "formats/layout": "formats/test_scene",
        "formats/growing": "formats/test_runfile",
        "formats/positionstable": "plan/test_positions",
        "formats/shelftable": "formats/test_fixturefile",
        "formats/lm63": "formats/test_photometric",
        "formats/eulumdat": "formats/test_photometric",
        "light/body": "light/test_against_radiance",
        "light/relined": "plan/test_doubts",
        "plan/levers": "plan/test_solver",
        "plan/problem": "plan/test_shelf",
        "plan/rehang": "plan/test_bench",
        "plan/stretches": "plan/test_solver",
        "formats/daytable": "formats/test_calendar",
        "plan/certainty": "plan/test_stageplan",
        "plan/stagedays": "plan/test_stageplan",
        "plan/tripkernels": "plan/test_trips",
        "compiled": "plan/test_trips",
    }
    assert {str(part) for part in untested} == set(through)
    assert all((ROOT / f"tests/core/{place}.py").is_file() for place in through.values())


def test_every_app_of_the_server_has_its_tests_and_no_others_are_left():
    apps = {path.parent.name for path in (ROOT / "src/server").glob("*/__init__.py")}
    tested = {path.parent.name for path in (ROOT / "tests/server").glob("*/test_*.py")}
    assert tested == apps
    # none stands outside its app's folder
    assert not list((ROOT / "tests/server").glob("test_*.py"))


@pytest.mark.parametrize(
    "lock", [*(ROOT / "requirements").glob("*.lock"), ROOT / "web/package-lock.json"]
)
def test_no_lock_names_a_download_host(lock):
    text = lock.read_text()
    assert not re.search(r"resolved|--index-url|--find-links|registry\.|pythonhosted", text)


@pytest.mark.parametrize("part", [part for _, part in PARTS])
def test_what_is_measured_can_be(part):
    assert callable(import_module(f"benchmarks.{part}").measure)


def test_no_two_schemas_go_by_one_name():
    """Of two with one name the API's document would show one alone."""
    names = Counter()
    for path in (ROOT / "src/server").rglob("*.py"):
        if "schemas" in path.relative_to(ROOT / "src/server").as_posix():
            names.update(re.findall(r"^class (\w+)\(", path.read_text(), re.MULTILINE))
    assert [name for name, count in names.items() if count > 1] == []


TOKEN = "a" * 32
MOST_S = 120
"""Seconds for one answer, on a machine that is busy with other things."""
FUZZ_S = 35
"""Seconds for all addresses together; each gets an even share of what is left."""
FEWEST_ASKED = 6
"""Each address is asked so often, however slow the machine."""


def rows_of(client):
    """One number of each kind of row that the demo grower has, by the name it goes by."""
    run = client.get("/api/runs").json()[0]
    lamp = next(f for f in client.get("/api/fixtures").json() if f["id"] == run["fixture_id"])
    body = {
        "name": "x",
        "text": "x_cm,y_cm,height_cm,ppfd\n60,45,40,500\n",
        "width_cm": 120,
        "depth_cm": 90,
        "lining": "silver",
    }
    kept = client.post(f"/api/fixtures/{lamp['id']}/maps", body, content_type="application/json")
    crop = next(c for c in client.get("/api/crops").json() if c["id"] == run["crop_id"])
    space = client.get("/api/spaces").json()[0]
    level = {**space, "name": "Level"}
    rack = client.post(
        "/api/spaces/racks",
        {"name": "Rack", "clear_cm": [60], "level": level},
        content_type="application/json",
    )
    device = client.post(
        "/api/devices",
        {"name": "Plug", "kind": "meter", "space_id": space["id"]},
        content_type="application/json",
    )
    readings = f"/api/readings/runs/{run['id']}/fits"
    fit = client.post(
        readings,
        {"rows": [{"x_cm": 60, "y_cm": 45, "height_cm": 40, "reading": 500}]},
        content_type="application/json",
    )
    # planned by the record while all is asked: a fit would take its time with every question
    client.post(f"{readings}/choice", {"fit_id": None}, content_type="application/json")
    sensor = client.post(
        "/api/readings/sensors",
        {"name": "Disc", "kind": "quantum"},
        content_type="application/json",
    )
    walk = str(UUID(int=7))
    client.post(
        f"/api/readings/runs/{run['id']}/walks/{walk}/entries",
        WALK,
        content_type="application/json",
    )
    return {
        "walk": walk,
        "fit_id": fit.json()["id"],
        "sensor_id": sensor.json()["id"],
        "device_id": device.json()["device"]["id"],
        "rack_id": rack.json()["id"],
        "run_id": run["id"],
        "space_id": run["space_id"],
        "fixture_id": lamp["id"],
        "crop_id": crop["id"],
        "stage_id": crop["stages"][0]["id"],
        "map_id": kept.json()["maps"][0]["id"],
    }


def made_real(value, rows):
    """A value with the numbers of rows in it replaced by those of rows there are."""
    if isinstance(value, dict):
        return {k: rows[k] if k in rows else made_real(v, rows) for k, v in value.items()}
    return [made_real(v, rows) for v in value] if isinstance(value, list) else value


def test_no_request_breaks_the_server(live_server, client):
    """Whatever the document allows and more, signed in: never our own mistake."""
    from server.runs.demo import make_demo  # noqa: PLC0415 - needs the database

    client.force_login(make_demo(), "django.contrib.auth.backends.ModelBackend")
    rows = rows_of(client)
    cookies = {"sessionid": client.cookies["sessionid"].value, "csrftoken": TOKEN}
    schema = schemathesis.openapi.from_dict(api.get_openapi_schema())
    schema.config.update(base_url=live_server.url)
    operations = [o.ok() for o in schema.get_all_operations() if "sign-" not in o.ok().path]
    end, reached, shares, asked = time.monotonic() + FUZZ_S, set(), {}, Counter()

    for left, operation in zip(range(len(operations), 0, -1), operations):
        now = time.monotonic()
        shares[operation.label] = now + (end - now) / left

        @settings(max_examples=30, deadline=None, suppress_health_check=list(HealthCheck))
        @given(case=operation.as_strategy(), real=st.sampled_from([True, True, True, False]))
        def never_breaks(case, real):
            label = case.operation.label
            if asked[label] >= FEWEST_ASKED and time.monotonic() > shares[label]:
                return
            asked[label] += 1
            if real:
                case.path_parameters = made_real(case.path_parameters or {}, rows)
                if isinstance(case.body, dict):
                    case.body = made_real(case.body, rows)
            reply = case.call(cookies=cookies, headers={"X-CSRFToken": TOKEN}, timeout=MOST_S)
            reached.add((label, reply.status_code))
            busy = reply.status_code == 503 and "retry-after" in reply.headers
            assert reply.status_code < 500 or busy, (case.operation.path, reply.text)
            if reply.status_code >= 400:
                assert reply.headers["content-type"] == ["application/problem+json"]

        never_breaks()
    # none was turned away at the door, and most were let in all the way
    assert 403 not in {status for _, status in reached}
    good = {label for label, status in reached if status < 300}
    assert len(good) > len(operations) / 2, sorted(
        o.label for o in operations if o.label not in good
    )
