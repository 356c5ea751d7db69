"""Databases of earlier versions open with nothing lost.

``databases/0.4.0.sql`` was written by version 0.4.0 itself: three growers with spaces, lamps with
a map and prices, crops, four plans, one of them with two hung lamps, wishes and kept settings.
"""

import json
import os
import re
import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[3]
OLD = Path(__file__).parent / "databases" / "0.4.0.sql"

OPENED = """
import json
import django
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from django.test import Client
from server.accounts.models import Grower
client = Client(HTTP_HOST="localhost")
client.force_login(Grower.objects.get(name="Ada"), "django.contrib.auth.backends.ModelBackend")
get = lambda path: client.get(f"/api/{path}").json()
runs = get("runs")
print(json.dumps({
    "session": get("accounts/session"),
    "spaces": get("spaces"),
    "fixtures": get("fixtures"),
    "runs": runs,
    "lamps": {run["id"]: get(f"runs/{run['id']}/lamps") for run in runs},
    "seasons": {run["id"]: get(f"runs/{run['id']}/season") for run in runs},
    "settings": {run["id"]: get(f"runs/{run['id']}/settings") for run in runs},
}))
"""


def rows(file, table):
    """A table's rows by their ids, every value as it stands."""
    file.row_factory = sqlite3.Row
    return {row["id"]: dict(row) for row in file.execute(f"select * from {table}")}


@pytest.fixture(scope="module")
def opened(tmp_path_factory):
    """The old file, the same one opened by today's program, and what that answers Ada."""
    data = tmp_path_factory.mktemp("old")
    old = sqlite3.connect(":memory:")
    old.executescript(OLD.read_text())
    new = sqlite3.connect(data / "idle-canopy.sqlite3")
    new.executescript(OLD.read_text())
    env = {
        **os.environ,
        "IDLE_CANOPY_DATA": str(data),
        "DJANGO_SETTINGS_MODULE": "server.config.settings",
        "PYTHONPATH": str(ROOT / "src"),
    }
    env.pop("IDLE_CANOPY_DEMO", None)
    command = [sys.executable, "-c", OPENED]
    run = subprocess.run(command, env=env, capture_output=True, text=True, check=False)
    assert run.returncode == 0, run.stderr
    yield old, new, json.loads(run.stdout.splitlines()[-1])
    old.close()
    new.close()


KEPT = (
    "accounts_grower",
    "spaces_space",
    "fixtures_fixture",
    "fixtures_lightmap",
    "crops_crop",
    "crops_stage",
    "runs_run",
    "runs_runlamp",
)
MOVED = {
    "spaces_space": {"currency", "tariff_per_kwh", "tariff_bands"},
    "runs_run": {"stage_id"},
    "runs_runlamp": {"run_id"},
}
"""Columns that stand elsewhere now; each is looked for below."""


@pytest.mark.parametrize("table", KEPT)
def test_every_row_and_column_is_still_there(opened, table):
    old, new, _ = opened
    before, after = rows(old, table), rows(new, table)
    assert before.keys() == after.keys()
    for pk, row in before.items():
        row.pop("last_login", None)  # Ada has just come in
        assert row.keys() - after[pk].keys() == MOVED.get(table, set())
        assert {n: v for n, v in after[pk].items() if n in row} == {
            n: v for n, v in row.items() if n in after[pk]
        }


def test_prices_became_tariffs_that_hold_from_the_spaces_day(opened):
    old, new, answers = opened
    tariffs = {row["space_id"]: row for row in rows(new, "spaces_tariff").values()}
    spaces = rows(old, "spaces_space")
    assert tariffs.keys() == spaces.keys()
    for pk, space in spaces.items():
        row = tariffs[pk]
        assert (row["currency"], row["per_kwh"]) == (space["currency"], space["tariff_per_kwh"])
        assert json.loads(row["bands"]) == json.loads(space["tariff_bands"])
        assert row["holds_from"] == space["created_at"][:10]
    shown = {space["name"]: space for space in answers["spaces"]}
    (band,) = shown["Attic tent"]["tariff_bands"]
    assert band.items() >= {"from_minute": 1320, "to_minute": 360, "per_kwh": 0.2}.items()
    # it held every day of the year, and does
    assert (band["days"], band["first"], band["last"]) == ("all", "", "")
    # the last space measured says what money she thinks in; her price was typed in that
    assert answers["session"]["grower"]["currency"] == shown["Window sill"]["currency"] == "kr"
    prices = {f["name"]: (f["price"], f["price_currency"]) for f in answers["fixtures"]}
    assert prices["Hearth Pair"] == (119.5, "kr")


def test_settings_became_a_history_and_lamps_hang_where_they_did(opened):
    old, new, answers = opened
    settings = rows(new, "runs_setting").values()
    for before in rows(old, "runs_stagesetting").values():
        after = next(s for s in settings if s["stage_id"] == before["stage_id"])
        assert (after["run_id"], after["kind"], after["freed"]) == (before["run_id"], "planned", 0)
        assert (after["height_cm"], after["dial_pct"]) == (before["height_cm"], before["dial_pct"])
        assert json.loads(after["windows"]) == [
            {"on_minute": before["on_minute"], "hours": before["hours"]}
        ]
        assert json.loads(after["locked"]) == json.loads(before["locked"])
    assert len(settings) == len(rows(old, "runs_stagesetting")) == 2
    arrangements = rows(new, "runs_arrangement")
    runs = rows(old, "runs_run")
    for before in rows(old, "runs_runlamp").values():
        found = arrangements[rows(new, "runs_runlamp")[before["id"]]["arrangement_id"]]
        run = runs[before["run_id"]]
        assert (found["run_id"], found["space_id"], found["fixture_id"]) == (
            run["id"],
            run["space_id"],
            run["fixture_id"],
        )
    hung = next(lamps for lamps in answers["lamps"].values() if len(lamps) == 2)
    assert [(lamp["x_cm"], lamp["tilt_deg"], lamp["bars_off"]) for lamp in hung] == [
        (60, 3, [1]),
        (30, 0, []),
    ]


def test_what_was_planned_is_planned_still(opened):
    _, _, answers = opened
    attic = next(run for run in answers["runs"] if run["aim"] == "even")
    season = answers["seasons"][str(attic["id"])]
    assert season["first"] == "2026-09-01"
    kept = [stage["planned"] and stage["planned"]["kept"] for stage in season["stages"]]
    assert kept == [True, False, True]
    assert len(answers["settings"][str(attic["id"])]) == 2
    assert all(run["begun_on"] is None for run in answers["runs"])


def test_no_migration_imports_live_code():
    for file in (ROOT / "src/server").glob("*/migrations/*.py"):
        assert not re.search(r"^(from|import) (server|canopy)", file.read_text(), re.M), file
