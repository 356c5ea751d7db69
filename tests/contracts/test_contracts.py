"""What other parts rely on: the API's document, the client made from it, the tree, the locks."""

import json
import re
import shutil
import subprocess
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings

from server.config.api import api

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
        "formats/shelftable": "formats/test_fixturefile",
        "formats/lm63": "formats/test_photometric",
        "formats/eulumdat": "formats/test_photometric",
        "light/body": "light/test_against_radiance",
        "light/kernels": "light/test_transport",
        "light/seen": "light/test_images",
        "plan/levers": "plan/test_solver",
        "plan/rehang": "plan/test_bench",
        "plan/stretches": "plan/test_solver",
        "formats/daytable": "formats/test_calendar",
        "plan/certainty": "plan/test_bench",
    }
    assert {str(part) for part in untested} == set(through)
    assert all((ROOT / f"tests/core/{place}.py").is_file() for place in through.values())


@pytest.mark.parametrize(
    "lock", [*(ROOT / "requirements").glob("*.lock"), ROOT / "web/package-lock.json"]
)
def test_no_lock_names_a_download_host(lock):
    text = lock.read_text()
    assert not re.search(r"resolved|--index-url|--find-links|registry\.|pythonhosted", text)


def test_no_request_breaks_the_server(live_server, client):
    """Whatever the document allows and more: never a 500, always a problem document."""
    from server.runs.demo import make_demo  # noqa: PLC0415 - needs the database

    client.force_login(make_demo(), "django.contrib.auth.backends.ModelBackend")
    session = {"sessionid": client.cookies["sessionid"].value}
    schema = schemathesis.openapi.from_dict(api.get_openapi_schema())
    schema.config.update(base_url=live_server.url)

    for operation in schema.get_all_operations():

        @settings(max_examples=8, deadline=None, suppress_health_check=list(HealthCheck))
        @given(case=operation.ok().as_strategy())
        def never_breaks(case):
            if not case.operation.path.endswith("sign-out"):
                reply = case.call(cookies=session)
                assert reply.status_code < 500, (case.operation.path, reply.text)

        never_breaks()
