"""One grower never sees another's rows. Every app, address and kind of row is looked up here, so
that a new one cannot escape."""

import re

import pytest
from django.apps import apps
from django.db import models
from django.test import Client
from django.utils import timezone

from server.config.api import api
from server.runs.demo import BOX_ROOM, CIRCUIT
from tests.server.conftest import PASSWORD
from tests.server.sent import (
    LEVERS,
    MAP,
    SMALL_LDT,
    WALK,
    WISHES,
    body_of,
    crop_body,
    run_body,
)

PIECE = {"name": "The left one", "burned_h": 1200}
NOTE = {
    "key": WALK["entries"][0]["key"],
    "kind": "note",
    "at": timezone.now().isoformat(),
    "text": "looks happy",
}
SEEN = {**NOTE, "key": "5d6f1a1e-93fb-4a6e-8b63-0d2a1b4c7e55", "kind": "symptom"}
SEEN |= {"values": {"what": "pale"}}
AT_THE_PLUG = {"height_cm": 45, "dial_pct": 60, "watts": 130}
SETTING = {"kind": "set", "windows": [{"on_minute": 360, "hours": 11}], "dial_pct": 60}
OPEN = {"/api/accounts/session", "/api/accounts/sign-in", "/api/accounts/sign-up"}
# its address is the secret: tests/server/logbook/test_feed.py
OPEN |= {"/api/calendar/{token}.ics"}


def operations():
    """Method and address of everything the API answers."""
    document = api.get_openapi_schema()
    return [(method, path) for path, found in document["paths"].items() for method in found]


@pytest.fixture
def paths(grower, space, run):
    """Every address with an id of Ada's, in an order of work, and a body that is good there."""
    first, second = (
        stage["id"] for stage in grower.named("crops", "Potted chrysanthemums")["stages"][:2]
    )
    lamp = grower.named("fixtures", "Wickerlight Six")
    crop = grower.named("crops", "Potted chrysanthemums")
    made = grower("post", f"fixtures/{lamp['id']}/maps", MAP)[1]["maps"][0]
    piece = grower("post", f"fixtures/{lamp['id']}/pieces", PIECE)[1]["pieces"][0]
    levels = {"name": "Rack", "clear_cm": [40], "level": {**BOX_ROOM, "hangers_cm": 2}}
    rack = grower("post", "spaces/racks", levels)[1]
    circuit = grower("post", "spaces/circuits", CIRCUIT)[1]
    device = {"name": "Plug", "kind": "meter", "space_id": space["id"]}
    plug = grower("post", "devices", device)[1]
    reading = {"quantity": "power", "unit": "W", "value": 3, "at": timezone.now().isoformat()}
    door = {"HTTP_AUTHORIZATION": f"Bearer {plug['token']}"}
    sent = Client().post("/api/door", {"id": "1", **reading}, "application/json", **door)
    assert sent.status_code == 200
    a_device = f"devices/{plug['device']['id']}"
    a_lamp, a_run, kept = f"fixtures/{lamp['id']}", f"runs/{run['id']}", {"removed": False}
    disc = {"name": "Disc", "kind": "quantum"}
    sensor = grower("post", "readings/sensors", disc)[1]
    five = {"rows": [{"x_cm": 60, "y_cm": 45, "height_cm": 40, "reading": 400}]}
    read = f"readings/runs/{run['id']}/fits"
    fit = grower("post", read, five)[1]
    walks = f"readings/runs/{run['id']}/walks"
    walk = f"{walks}/{WALK['entries'][0]['key']}"
    grower("post", f"{walk}/entries", WALK)
    return [
        ("get", walks, None),
        ("post", f"{walks}/table", {"text": "x_cm,y_cm,height_cm,ppfd\n60,45,40,400\n"}),
        ("post", f"{walk}/entries", WALK),
        ("get", walk, None),
        ("get", f"{walk}/table?kind=xlsx", None),
        ("put", f"{walk}/aside", kept),
        ("post", f"{read}/compare", five),
        ("post", f"readings/runs/{run['id']}/watts", {"stage_id": first, **AT_THE_PLUG}),
        ("put", f"readings/sensors/{sensor['id']}", disc),
        ("put", f"readings/sensors/{sensor['id']}/aside", kept),
        ("get", read, None),
        ("post", read, five | {"sensor_id": sensor["id"]}),
        ("post", f"{read}/try", five),
        ("post", f"{read}/expect", {"spots": [{"x_cm": 60, "y_cm": 45, "height_cm": 40}]}),
        ("get", f"{read}/{fit['id']}", None),
        ("post", f"{read}/choice", {"fit_id": fit["id"]}),
        ("post", f"{read}/choice", {"fit_id": None}),
        ("put", f"spaces/{space['id']}", BOX_ROOM),
        ("post", f"spaces/{space['id']}/copy", {"name": "Like it"}),
        ("put", f"spaces/{space['id']}/aside", kept),
        ("put", f"spaces/circuits/{circuit['id']}", CIRCUIT),
        ("put", f"spaces/circuits/{circuit['id']}/aside", kept),
        ("get", f"spaces/{space['id']}/power", None),
        (
            "put",
            f"spaces/{space['id']}/power",
            {"circuit_id": circuit["id"], "mount": {}, "air": {}},
        ),
        ("put", f"spaces/{space['id']}/tariff", {"per_kwh": 0.3}),
        ("put", f"spaces/{space['id']}/prices", {"text": ""}),
        ("post", f"spaces/racks/{rack['id']}/levels", {"clear_cm": 40}),
        ("put", f"spaces/racks/{rack['id']}/name", {"name": "Rack"}),
        ("get", f"runs/racks/{rack['id']}", None),
        ("put", f"spaces/racks/{rack['id']}/aside", kept),
        ("put", a_lamp, body_of(lamp)),
        ("get", f"{a_lamp}/file", None),
        ("put", f"{a_lamp}/shelf", kept),
        ("get", f"{a_lamp}/spectrum", None),
        ("put", f"{a_lamp}/spectrum", {"text": "400,1\n700,1\n"}),
        ("put", f"{a_lamp}/photometry", {"text": SMALL_LDT, "unit": "umol/s/sr"}),
        ("put", f"{a_lamp}/light-source", {"light_source": "photometric"}),
        ("post", f"{a_lamp}/maps", MAP),
        ("put", f"{a_lamp}/maps/{made['id']}/ppf", {}),
        ("put", f"{a_lamp}/maps/{made['id']}", kept),
        ("get", f"{a_lamp}/maps/{made['id']}/table", None),
        ("post", f"{a_lamp}/maps/beside", {"maps": [{"map_id": made["id"]}]}),
        ("put", f"{a_lamp}/light-source", {"light_source": "map", "map_id": made["id"]}),
        ("post", f"{a_lamp}/pieces", PIECE),
        ("put", f"fixtures/pieces/{piece['id']}", PIECE),
        ("put", f"fixtures/pieces/{piece['id']}/aside", kept),
        ("put", f"crops/{crop['id']}", crop_body(crop)),
        ("put", f"crops/{crop['id']}/aside", kept),
        ("put", a_run, run_body(run)),
        ("put", f"{a_run}/name", {"name": "For the show"}),
        ("put", f"{a_run}/aside", kept),
        ("post", f"{a_run}/copy", {}),
        ("post", f"{a_run}/undo", None),
        ("post", f"{a_run}/redo", None),
        ("get", f"{a_run}/file", None),
        ("get", f"{a_run}/lamps", None),
        ("get", f"{a_run}/lamps/another?fixture_id={lamp['id']}", None),
        ("put", f"{a_run}/lamps", {"lamps": []}),
        ("get", f"{a_run}/season", None),
        ("get", f"{a_run}/season/table", None),
        ("get", f"{a_run}/season/calendar", None),
        ("put", f"{a_run}/wishes", WISHES),
        ("get", f"{a_run}/stages/{first}/opinions", None),
        ("post", f"{a_run}/shelf", {}),
        ("post", f"{a_run}/compare", {"lamps": [{"fixture_id": lamp["id"]}] * 2}),
        ("post", f"{a_run}/beside", {"run_ids": [run["id"]], "stage_id": first}),
        ("get", f"{a_run}/headroom", None),
        ("get", f"{a_run}/power", None),
        ("get", f"{a_run}/sheets?price=20", None),
        ("put", f"{a_run}/plants", {"plants": 9}),
        ("get", f"{a_run}/install", None),
        ("put", f"{a_run}/install/glasses", {}),
        ("delete", f"{a_run}/install/glasses", None),
        ("get", f"{a_run}/stages/{first}/bench", None),
        ("post", f"{a_run}/bench", {"stage_id": first, **LEVERS}),
        ("post", f"{a_run}/lining", {"stage_id": first, **LEVERS}),
        ("post", f"{a_run}/positions", {"stage_id": first, **LEVERS}),
        ("put", f"{a_run}/stages/{first}/setting", {**LEVERS, "on_minute": 0}),
        ("delete", f"{a_run}/stages/{first}/setting", None),
        ("put", f"{a_run}/stages/{first}/changes/3", None),
        ("put", f"{a_run}/stages/{first}/switches/1", {"dial_pct": None}),
        ("put", f"{a_run}/stages/{first}/groups/1", {"dial_pct": 50}),
        ("delete", f"{a_run}/stages/{first}/groups/1", None),
        ("put", a_device, device),
        ("put", f"{a_device}/paused", {"paused": False}),
        ("put", f"{a_device}/token", None),
        ("get", f"{a_device}/curve?quantity=power", None),
        ("get", f"{a_device}/commands", None),
        ("post", f"{a_device}/schedule?run_id={run['id']}", None),
        ("post", f"{a_device}/setting", {"quantity": "switch", "value": 1}),
        ("delete", f"{a_device}/token", None),
        ("put", f"{a_device}/aside", kept),
        ("put", f"{a_run}/begin", {}),
        ("delete", f"{a_run}/begin", None),
        ("put", f"{a_run}/begin", {}),
        ("put", f"{a_run}/stages/{second}/begin", {}),
        ("delete", f"{a_run}/stages/{second}/begin", None),
        ("post", f"{a_run}/settings", {"stage_id": first, **SETTING}),
        ("get", f"{a_run}/settings", None),
        ("get", f"{a_run}/plans", None),
        ("put", f"{a_run}/plans", {}),
        ("get", f"logbook/{a_run}/away", None),
        ("put", f"{a_run}/end", {}),
        ("delete", f"{a_run}/end", None),
        ("get", f"logbook/{a_run}/entries", None),
        ("get", f"logbook/{a_run}/entries/gone", None),
        ("post", f"logbook/{a_run}/entries", {"entries": [NOTE]}),
        ("post", f"logbook/{a_run}/entries", {"entries": [SEEN]}),
        ("get", f"logbook/{a_run}/entries/{SEEN['key']}/causes", None),
        ("get", f"logbook/{a_run}/entries/table?kind=xlsx", None),
        ("get", f"logbook/{a_run}/tops", None),
        ("get", f"logbook/{a_run}/light", None),
        ("get", f"review/{a_run}", None),
        ("get", f"review/{a_run}/drift", None),
        ("post", f"review/{a_run}/next", {}),
    ]


def plain(path):
    """An address with every number as the same sign."""
    uuid = r"(?<=/walks/)[0-9a-f-]{36}|(?<=/entries/)[0-9a-f-]{36}"
    return re.sub(rf"\{{[^}}]+\}}|{uuid}|\d+|(?<=/install/)\w+", "#", path.split("?")[0])


def test_what_is_not_yours_is_not_there(grower, stranger, paths, run):
    for method, path, body in paths:
        # of one that is not the stranger's first, so that nothing has been changed by it
        assert stranger(method, path, body)[0] == 404, path
        assert grower(method, path, body)[0] in (200, 201, 204), path
    for path in (
        "spaces",
        "runs",
        "spaces/circuits",
        "runs/installs/left",
        "devices",
        "readings/sensors",
    ):
        assert stranger("get", path) == (200, [])
    # nor is a simulated sensor carried about in another's tent
    there = {"space_id": run["space_id"], "x_cm": 60, "y_cm": 45, "height_cm": 40}
    assert stranger("post", "devices/hand", there)[0] == 404
    assert grower("post", "devices/hand", there) == (200, {"carried": False})
    # nor can another's rows be put into a run of one's own
    assert stranger("post", "runs", run_body(run))[0] == 404


def test_no_address_with_a_row_in_it_is_left_out(paths):
    rows = {
        (method, plain(path)) for method, path in operations() if re.search(r"\{\w+_id\}", path)
    }
    # only where a broker is set up: tests/server/devices/test_broker.py
    rows -= {("put", "/api/devices/#/topic")}
    # files are sent and shown: tests/server/logbook/test_photos.py
    rows -= {("post", "/api/logbook/runs/#/photos"), ("get", "/api/logbook/photos/#")}
    assert rows == {(method, plain(f"/api/{path}")) for method, path, _ in paths}


def test_another_growers_lamp_cannot_be_hung(grower, stranger, run):
    theirs = stranger.named("fixtures", "Wickerlight Six")["id"]
    lamp = {"fixture_id": theirs, "x_cm": 60, "y_cm": 45}
    assert grower("put", f"runs/{run['id']}/lamps", {"lamps": [lamp]})[0] == 404
    piece = stranger("post", f"fixtures/{theirs}/pieces", PIECE)[1]["pieces"][0]
    lamp |= {"fixture_id": run["fixture_id"], "piece_id": piece["id"]}
    assert grower("put", f"runs/{run['id']}/lamps", {"lamps": [lamp]})[0] == 404


def test_a_stage_of_another_crop_is_not_there(grower, run):
    other = grower.named("crops", "Lettuce")["stages"][0]["id"]
    assert grower("get", f"runs/{run['id']}/stages/{other}/bench")[0] == 404


@pytest.mark.django_db
@pytest.mark.parametrize(("method", "path"), operations())
def test_strangers_are_asked_to_sign_in_and_forged_forms_are_refused(method, path):
    address = path.replace("{kind}", "csv").replace("{walk}", WALK["entries"][0]["key"])
    address = address.replace("{entry}", SEEN["key"]).replace("{key}", SEEN["key"])
    address = re.sub(r"\{\w+\}", "1", address)
    if path not in OPEN:
        reply = getattr(Client(), method)(address, {}, content_type="application/json")
        assert reply.status_code == 401
    # devices come by the door with a token; who is signed in is not looked at there
    if method != "get" and not path.startswith("/api/door"):
        client = Client(enforce_csrf_checks=True)
        body = {"name": "Eve", "password": PASSWORD} if path in OPEN else {}
        reply = getattr(client, method)(address, body, content_type="application/json")
        assert reply.status_code == 403, "a form of another site would be taken"


def owned(model):
    """Whether a row goes back to one grower, by rows it goes with."""
    fields = [f for f in model._meta.fields if isinstance(f, models.ForeignKey)]
    if any(f.name == "owner" for f in fields):
        return True
    # readings go with their series in the database itself
    together = (models.CASCADE, models.DO_NOTHING)
    along = [f for f in fields if f.remote_field.on_delete in together]
    return any(owned(field.related_model) for field in along)


def test_every_kind_of_row_belongs_to_a_grower():
    areas = [app for app in apps.get_app_configs() if app.name.startswith("server.")]
    kinds = {model for app in areas for model in app.get_models()}
    assert {model.__name__ for model in kinds if not owned(model)} == {"Grower"}
    assert len(kinds) > 10
