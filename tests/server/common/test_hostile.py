"""What is sent to break things: refused in a sentence, and nobody else has to wait for it."""

import json
import sqlite3

import pytest
from django.conf import settings
from django.db import connection
from django.test import Client

from server.fixtures import services
from server.fixtures.models import Fixture
from server.runs.demo import BOX_ROOM
from tests.server.conftest import signed_in
from tests.server.sent import EXAMPLE, MAP, SMALL_LDT, WISHES, body_of, crop_body, encoded

ROWS = "".join(f"{nm},1\n" for nm in range(400, 701, 50))


def test_what_could_not_be_read_again_is_not_kept(grower):
    lamp = grower.named("fixtures", "Sill Strip 30")
    path = f"fixtures/{lamp['id']}"
    broken = json.dumps(json.loads(EXAMPLE) | {"details": {"ip": "\ud800"}})
    for method, to, body in (
        ("put", f"{path}/spectrum", {"text": "400,1e300\n500,1\n"}),
        ("post", "fixtures/file", {"text": broken}),
        ("put", path, body_of(lamp) | {"note": "\ud800"}),
        ("put", path, body_of(lamp) | {"layout": {"point": True, "\ud800": 1}}),
        ("put", path, body_of(lamp) | {"details": {"safety": "a\0b"}}),
    ):
        status, problem = grower(method, to, body)
        assert status == 422, (to, body)
        assert problem["detail"].endswith(".")
    assert grower.named("fixtures", "Sill Strip 30") == lamp
    for kind in ("csv", "xlsx"):
        assert grower("get", f"fixtures/table/{kind}")[0] == 200


@pytest.mark.parametrize(
    "poison",
    [
        {"spectrum": {"wavelength_nm": [400, 500], "power": [1e300, 1]}},
        {"details": {"ip": "\ud800"}},
        {"layout": {"hoop": 3}},
        {"dial_table": []},
        {"photometry": {"values": [[-1]]}},
    ],
)
def test_a_row_already_poisoned_takes_no_list_along(grower, run, poison):
    bad = grower.named("fixtures", "Sill Strip 30")
    Fixture.objects.filter(pk=bad["id"]).update(**poison)
    status, rows = grower("get", "fixtures")
    assert status == 200
    shown = next(row for row in rows if row["id"] == bad["id"])
    assert shown["trouble"]
    assert shown["trust"] == "wrong"
    assert [row["name"] for row in rows if row["trouble"]] == [bad["name"]]
    status, ranked = grower("post", f"runs/{run['id']}/shelf", {})
    assert status == 200, ranked
    assert next(row for row in ranked["rows"] if row["fixture_id"] == bad["id"])["refused"]
    assert sum(row["meets"] for row in ranked["rows"]) > 0
    out = grower("get", "fixtures/table/csv")[1]
    assert out["left_out"] == [bad["name"]]
    # it can be taken off the shelf and put back, and mended by its form
    for removed in (True, False):
        status, row = grower("put", f"fixtures/{bad['id']}/shelf", {"removed": removed})
        assert (status, row["removed"]) == (200, removed)
    if "photometry" not in poison:
        status, mended = grower("put", f"fixtures/{bad['id']}", body_of(bad))
        assert (status, mended["trouble"]) == (200, "")


def test_numbers_no_database_can_hold(grower, run):
    far = 2**63
    for method, path, body in (
        ("get", f"fixtures/{far}/file", None),
        ("put", f"runs/{far}/wishes", WISHES),
        ("get", f"runs/{run['id']}/stages/{far}/bench", None),
        ("post", f"runs/{run['id']}/shelf", {"fixture_ids": [far]}),
        ("put", f"runs/{run['id']}", {"space_id": far, "fixture_id": 1, "crop_id": 1}),
        ("post", "runs", {"space_id": 1, "fixture_id": far * far, "crop_id": 1}),
    ):
        assert grower(method, path, body)[0] in (404, 422), path


@pytest.mark.parametrize("day", ["9999-12-31", "0001-01-01", "soon", None])
def test_days_no_season_can_start_on(grower, run, day):
    status, problem = grower("put", f"runs/{run['id']}/wishes", WISHES | {"started_on": day})
    assert (status, problem["errors"][0]["field"]) == (422, "started_on")
    for part in ("season", "season/table", "season/calendar"):
        assert grower("get", f"runs/{run['id']}/{part}")[0] == 200


def test_a_day_kept_before_there_were_limits_is_said(grower, run):
    run_of(run).update(started_on="9999-12-31")
    for part in ("season", "season/table", "season/calendar"):
        status, problem = grower("get", f"runs/{run['id']}/{part}")
        assert (status, problem["errors"][0]["field"]) == (422, "started_on")


def run_of(run):
    from server.runs.models import Run  # noqa: PLC0415 - models are not ready before

    return Run.objects.filter(pk=run["id"])


def test_hours_and_lights_of_next_to_nothing(grower, run):
    crop = grower.named("crops", "Potted chrysanthemums")
    for change in (
        {"hours_low": 1e-300, "hours_high": 1e-300},
        {"dli_low": 1e-300},
        {"hot_spot_cap": 1e-300},
        {"ppfd_low": 1e-300, "ppfd_high": 1e-300},
    ):
        stages = [stage | change for stage in crop["stages"]]
        body = crop_body(crop, stages=stages)
        status, problem = grower("put", f"crops/{crop['id']}", body)
        assert status == 422, change
        assert problem["errors"][0]["field"].startswith("stages.0."), change
    lamp = grower.named("fixtures", "Sill Strip 30")
    dark = [{"position_pct": 100, "watts_fraction": 1, "light_fraction": 0}]
    body = body_of(lamp) | {"dial_kind": "none", "dial_table": dark}
    assert grower("put", f"fixtures/{lamp['id']}", body)[0] == 422


@pytest.mark.parametrize("content", ["🌱", encoded("name,ppf_umol_s,watts\n🌱,\0,1")])
def test_tables_of_signs(grower, content):
    status, found = grower("post", "fixtures/table", {"content": content})
    assert status == 422 or found["troubles"]


@pytest.mark.parametrize(
    ("body", "kind"),
    [
        (b"--x\r\nbroken", "multipart/form-data; boundary=x"),
        (b"--x\r\nbroken", "multipart/form-data"),
        (
            b"--x\r\nContent-Disposition: form-data; name=a\r\n\r\n1\r\n--x--\r\n",
            "multipart/form-data; boundary=x",
        ),
        (b"\xff\xfe", "application/json"),
        (b"[" * 100_000, "application/json"),
        (b'{"name": "\\ud800"}', "application/json"),
    ],
)
def test_bodies_that_are_no_json(grower, body, kind):
    client = Client(enforce_csrf_checks=True, raise_request_exception=False)
    client.cookies = grower.client.cookies
    client.get("/")
    token = client.cookies["csrftoken"].value
    for headers in ({}, {"X-CSRFToken": token}):
        reply = client.generic("POST", "/api/spaces", body, content_type=kind, headers=headers)
        assert 400 <= reply.status_code < 500, reply.content
        assert reply["Content-Type"] == "application/problem+json"


def test_addresses_that_are_none(grower):
    for path in ("nothing", "fixtures/x/file", "fixtures/-1/file"):
        assert grower("get", path)[0] == 404


READERS = (
    "stored_record",
    "read_photometry",
    "read_map",
    "read_spectrum_file",
    "read_fixture_text",
    "read_table",
)


@pytest.mark.django_db(transaction=True)
def test_nothing_is_parsed_while_others_wait_to_write(monkeypatch):
    """Every reader is called before the transaction that keeps what it read."""
    grower = signed_in("Ada")
    read = set()

    def outside(name, reader):
        def call(*given):
            assert not connection.in_atomic_block, name
            read.add(name)
            return reader(*given)

        return call

    for name in READERS:
        monkeypatch.setattr(services, name, outside(name, getattr(services, name)))
    lamp = grower.named("fixtures", "Tallow Board 100")
    path = f"fixtures/{lamp['id']}"
    table = grower("get", "fixtures/table/csv")[1]["content"]
    for method, to, body in (
        ("post", "fixtures", body_of(lamp)),
        ("put", path, body_of(lamp)),
        ("put", f"{path}/photometry", {"text": SMALL_LDT, "unit": "umol/s/sr"}),
        ("post", f"{path}/maps", MAP),
        ("put", f"{path}/spectrum", {"text": ROWS}),
        ("post", "fixtures/file", {"text": EXAMPLE}),
        ("post", "fixtures/table", {"content": table, "same": "replace"}),
    ):
        assert grower(method, to, body)[0] in (200, 201), to
    assert read == set(READERS)


@pytest.mark.django_db(transaction=True)
def test_a_database_held_by_another_asks_to_try_again():
    grower = signed_in("Ada")
    grower.client.raise_request_exception = False
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA busy_timeout = 50")
    other = sqlite3.connect(settings.DATABASES["default"]["TEST"]["NAME"], isolation_level=None)
    try:
        other.execute("BEGIN IMMEDIATE")
        reply = grower.client.post("/api/spaces", BOX_ROOM, content_type="application/json")
        assert (reply.status_code, reply["Retry-After"]) == (503, "2")
        assert reply["Content-Type"] == "application/problem+json"
        # reading goes on
        assert grower("get", "spaces") == (200, [])
        other.execute("ROLLBACK")
        assert grower("post", "spaces", BOX_ROOM)[0] == 201
    finally:
        other.close()
        connection.close()
