"""An account that has one of everything, and archives as plain values."""

import io
import json
import re
import zipfile
from pathlib import Path
from uuid import uuid4

import pytest
from django.conf import settings
from django.utils import timezone

from server.accounts.models import Grower
from server.archive.adapters.inward import NUMBERED_DUE
from server.archive.services.bring import bring_in
from server.archive.services.out import write_archive
from server.runs.models import RunStage
from tests.server.common.test_ownership import paths  # noqa: F401 - a fixture
from tests.server.logbook.test_photos import picture

PRICES = Path(__file__).parents[3] / "docs/formats/example.price.csv"
COSTLY = re.compile("shelf$|compare$|beside$|bench$|try$|expect$|lining$|positions$|undo$|redo$")


@pytest.fixture(autouse=True)
def data(tmp_path, monkeypatch):
    monkeypatch.setattr(settings, "DATA", tmp_path)
    return tmp_path


@pytest.fixture
def ada(grower):
    return Grower.objects.get(name="Ada")


@pytest.fixture
def everything(grower, ada, paths):  # noqa: F811 - a fixture
    """Ada's account after everything that can be done was done, as the ownership test has it."""
    for method, path, body in paths:
        if method != "get" and not (method == "post" and COSTLY.search(path)):
            status, answer = grower(method, path, body)
            assert status in (200, 201, 204, 404), (method, path, answer)
    run = next(row["id"] for row in grower("get", "runs")[1] if row["begun_on"])
    plan = next(row["id"] for row in grower("get", "runs")[1] if not row["begun_on"])
    shelf = grower("get", "fixtures")[1]
    piece = next((lamp["id"], p["id"]) for lamp in shelf for p in lamp["pieces"])
    hung = {"fixture_id": piece[0], "piece_id": piece[1], "x_cm": 60, "y_cm": 45}
    status, answer = grower("put", f"runs/{plan}/lamps", {"lamps": [hung]})
    assert status == 200, answer
    space = grower("get", "spaces")[1][0]["id"]
    prices = {"text": PRICES.read_text(), "adds_per_kwh": 0.1}
    assert grower("put", f"spaces/{space}/prices", prices)[0] == 200
    life = RunStage.objects.filter(run=run).first().pk
    answers = {"key": str(uuid4()), "kind": "answer", "at": timezone.now().isoformat()}
    answers |= {"values": {"due": f"stage:{life}", "what": "never"}, "text": "goes on"}
    wiped = {**answers, "key": str(uuid4()), "kind": "cleaned", "values": {"what": "lamp"}}
    edited = {**wiped, "key": str(uuid4()), "replaces": wiped["key"], "text": "and dried it"}
    kept = {"entries": [answers, wiped, edited]}
    assert grower("post", f"logbook/runs/{run}/entries", kept)[0] == 201
    entries = f"/api/logbook/runs/{run}/photos?note=front"
    key = str(uuid4())
    sent = grower.client.post(
        entries, picture(), content_type="image/jpeg", headers={"Idempotency-Key": key}
    )
    assert sent.status_code == 201
    return ada


def out_of(grower):
    found = io.BytesIO()
    write_archive(grower, found, timezone.now())
    return found


def into(grower, source, really=True):
    source.seek(0)
    return bring_in(grower, source, really)


def rows_of(source):
    """An archive's rows by kind."""
    found = {}
    with zipfile.ZipFile(source) as file:
        for name in sorted(file.namelist()):
            match = re.fullmatch(r"rows/(\w+)(\.\d+)?\.json", name)
            if match:
                found.setdefault(match[1], []).extend(json.loads(file.read(name))["rows"])
    return found


def plain(source):
    """An archive's rows and photos with whatever documents name by number by its UUID."""
    rows = rows_of(source)
    numbers = {
        kind: {row["number"]: row.get("uuid") or row["key"] for row in found}
        for kind, found in rows.items()
        if found and "number" in found[0]
    }
    for kind, found in rows.items():
        for row in found:
            row.pop("number", None)
            _name(kind, row, numbers)
            if kind in ("fixtures", "crops"):
                # those that every account begins with are there, as old as the account
                row.pop("created_at"), row.pop("changed_at")
        rows[kind] = sorted(json.dumps(_floats(row), sort_keys=True) for row in found)
    with zipfile.ZipFile(source) as file:
        photos = {n: file.read(n) for n in file.namelist() if n.startswith("photos/")}
    return rows, photos


def _floats(value):
    """A value whose whole numbers are written like others: 1 and 1.0 are the same figure."""
    if isinstance(value, dict):
        return {name: _floats(each) for name, each in value.items()}
    if isinstance(value, list):
        return [_floats(each) for each in value]
    whole = isinstance(value, int) and not isinstance(value, bool)
    return float(value) if whole else value


def _name(kind, row, numbers):
    def named(of, number):
        return None if number is None else numbers.get(of, {}).get(number, "nobody")

    if kind == "plans" and row["document"]:
        document = row["document"]
        for stage in document["crop"]["stages"]:
            stage["id"] = named("stages", stage["id"])
        for each in document["above"]:
            each["stage"] = named("stages", each["stage"])
        for lamp in document["fixtures"]:
            lamp["id"] = named("fixtures", lamp["id"])
        for lamp in document["lamps"]:
            lamp["fixture"] = named("fixtures", lamp["fixture"])
            if lamp["piece"]:
                lamp["piece"]["id"] = named("lamps", lamp["piece"]["id"])
        document["main"] = named("fixtures", document["main"])
    if kind == "fits":
        for whose in row["document"]["whose"]:
            whose["fixture"] = named("fixtures", whose["fixture"])
            whose["piece"] = named("lamps", whose["piece"])
    if kind == "walk_entries" and row["asked"]:
        row["asked"]["sensor_id"] = named("sensors", row["asked"]["sensor_id"])
    if kind == "entries":
        values = row["values"]
        if "photo" in values:
            values["photo"] = named("photos", values["photo"])
        match = NUMBERED_DUE.fullmatch(str(values.get("due", "")))
        if match:
            values["due"] = named("run_stages", int(match[2]))


def changed_row(source, kind, change, at=0):
    """An archive with one row of a kind as a function leaves it; it may add others."""
    found = io.BytesIO()
    with zipfile.ZipFile(source) as old, zipfile.ZipFile(found, "w", zipfile.ZIP_DEFLATED) as new:
        head = json.loads(old.read("archive.json"))
        for name in old.namelist():
            content = old.read(name)
            if name == f"rows/{kind}.json":
                document = json.loads(content)
                change(document["rows"], document["rows"][at] if document["rows"] else None)
                head["counts"][kind] = len(document["rows"])
                content = json.dumps(document).encode()
            if name != "archive.json":
                new.writestr(name, content)
        new.writestr("archive.json", json.dumps(head))
    return found
