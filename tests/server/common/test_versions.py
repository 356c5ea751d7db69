"""Two hands at once: an answer carries its version, and a change made on an old one is refused
with the row as it now stands."""

import re

import pytest
from django.db import IntegrityError, connection

from canopy.fixture.record import KINDS
from canopy.formats.growing import AIMS, HABITS, ON_WISHES, RESPONSES
from canopy.light.linings import linings
from server.common.models import LININGS
from server.config.api import api
from server.fixtures import models as fixtures
from server.runs.demo import BOX_ROOM
from tests.server.sent import MAP, WISHES, body_of, crop_body, run_body


def send(grower, method, path, body, match=None):
    headers = {} if match is None else {"If-Match": match}
    call = getattr(grower.client, method)
    return call(f"/api/{path}", body, content_type="application/json", headers=headers)


@pytest.fixture
def changes(grower, space, run):
    """Every kind of row, how it is changed, and the row it is found by."""
    lamp = grower.named("fixtures", "Wickerlight Six")
    crop = grower.named("crops", "Potted chrysanthemums")
    made = grower("post", f"fixtures/{lamp['id']}/maps", MAP)[1]["maps"][0]
    a_run = f"runs/{run['id']}"
    return [
        (f"spaces/{space['id']}", BOX_ROOM | {"name": "Wider"}, "Wider"),
        (f"fixtures/{lamp['id']}", body_of(lamp) | {"name": "Mended"}, "Mended"),
        (f"fixtures/{lamp['id']}/spectrum", {"text": "400,1\n700,1\n"}, None),
        (f"fixtures/{lamp['id']}/light-source", {"light_source": "model"}, None),
        (f"fixtures/{lamp['id']}/maps/{made['id']}", {"removed": False}, None),
        (f"fixtures/{lamp['id']}/shelf", {"removed": False}, None),
        (f"spaces/{space['id']}/aside", {"removed": False}, None),
        (f"crops/{crop['id']}/aside", {"removed": False}, None),
        (f"crops/{crop['id']}", crop_body(crop, name="Mums"), "Mums"),
        (f"{a_run}/name", {"name": "For the show"}, "For the show"),
        (a_run, run_body(run), None),
        (f"{a_run}/wishes", WISHES, None),
        ("accounts/preferences", {"length_unit": "in"}, None),
    ]


def test_a_change_made_on_an_old_version_is_refused_with_the_present_row(grower, changes):
    for path, body, name in changes:
        first = send(grower, "put", path, body)
        version = first.json()["version"]
        assert first["ETag"] == f'"{version}"', path
        # on the version there is it goes through, and counts
        second = send(grower, "put", path, body, first["ETag"])
        assert (second.status_code, second.json()["version"]) == (200, version + 1), path
        late = send(grower, "put", path, body, first["ETag"])
        assert late.status_code == 412, path
        assert late["Content-Type"] == "application/problem+json"
        assert late["ETag"] == second["ETag"]
        present = late.json()["present"]
        assert present == second.json(), path
        assert name is None or present["name"] == name
        # whoever does not ask is not refused, nor who takes any
        for match in (None, "*", f'"1", W/"{version + 3}"'):
            assert send(grower, "put", path, body, match).status_code == 200, (path, match)
        assert send(grower, "put", path, body, "nonsense").status_code == 412


def test_hung_lamps_count_as_a_change_of_their_run_and_appended_settings_do_not(grower, run):
    path = f"runs/{run['id']}"
    tag = f'"{run["version"]}"'
    levers = {"height_cm": 40, "dial_pct": 50, "hours": 11, "on_minute": 0}
    grower("put", f"{path}/stages/{run['stage_id']}/setting", levers)
    assert send(grower, "put", f"{path}/name", {"name": ""}, tag).status_code == 200
    tag = f'"{run["version"] + 1}"'
    assert send(grower, "put", f"{path}/lamps", {"lamps": []}, tag).status_code == 200
    late = send(grower, "put", f"{path}/lamps", {"lamps": []}, tag)
    assert (late.status_code, late.json()["present"]["id"]) == (412, run["id"])


def test_an_answer_can_be_sent_back_as_it_came(grower, space, run):
    for path, name in (
        ("spaces", BOX_ROOM["name"]),
        ("fixtures", "Hearth Pair"),
        ("crops", "Lettuce"),
    ):
        row = grower.named(path, name)
        status, back = grower("put", f"{path}/{row['id']}", row)
        assert (status, back) == (200, row | {"version": row["version"] + 1}), path
        assert grower("put", f"{path}/{row['id']}", row | {"colour": 1})[0] == 422, path


WORDS = {
    ("fixtures_fixture", "kind"): KINDS,
    ("crops_crop", "habit"): HABITS,
    ("crops_stage", "response"): RESPONSES,
    ("runs_run", "aim"): AIMS,
    ("runs_run", "on_wish"): ON_WISHES,
    ("spaces_space", "lining"): tuple(row["key"] for row in linings()),
    ("fixtures_lightmap", "lining_back"): ("", *(row["key"] for row in linings())),
}


@pytest.mark.parametrize(("table", "column"), WORDS)
def test_the_database_takes_the_cores_words_and_no_others(grower, run, table, column):
    assert set(fixtures.KINDS) == set(KINDS)
    assert set(LININGS) == {row["key"] for row in linings()}
    with connection.cursor() as cursor:
        cursor.execute(f"select count(*) from {table}")
        for word in WORDS[table, column]:
            cursor.execute(f"update {table} set {column} = %s", [word])
        if cursor.rowcount:
            with pytest.raises(IntegrityError):
                cursor.execute(f"update {table} set {column} = 'nonsense'")


def test_every_change_of_a_row_takes_a_version_and_everything_appended_a_key():
    for path, found in api.get_openapi_schema()["paths"].items():
        for method, operation in found.items():
            if method not in ("put", "delete") or not re.search(r"\{\w+_id\}", path):
                continue
            headers = {p["name"] for p in operation["parameters"] if p["in"] == "header"}
            appended = re.search(
                r"/(setting|groups/\{group\}|switches/\{switch\}|changes/\{from_day\}|install/\{step\})$",
                path,
            )
            assert ("Idempotency-Key" if appended else "If-Match") in headers, (method, path)
