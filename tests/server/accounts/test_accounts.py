"""Signing up, in and out; the demo's own door."""

import pytest
from django.test import Client

from server.runs.demo import make_demo
from tests.server.conftest import PASSWORD, Api

pytestmark = pytest.mark.django_db


def test_from_nothing_to_signed_out():
    api = Api(Client())
    assert api("get", "accounts/session") == (200, {"grower": None})
    status, made = api("post", "accounts/sign-up", {"name": "Cy", "password": PASSWORD})
    assert (status, made["grower"]["name"]) == (200, "Cy")
    # every account begins with lamps and crops of its own
    assert len(api("get", "fixtures")[1]) >= 10
    assert api.named("crops", "Potted chrysanthemums")["stages"]
    assert api("put", "accounts/preferences", {"length_unit": "in"})[1]["length_unit"] == "in"
    assert api("post", "accounts/sign-out") == (200, {"grower": None})
    assert api("get", "spaces")[0] == 401
    status, back = api("post", "accounts/sign-in", {"name": "Cy", "password": PASSWORD})
    assert (status, back["grower"]["length_unit"]) == (200, "in")


def test_a_day_is_the_growers_and_a_zone_nobody_knows_is_refused(grower, monkeypatch):
    from datetime import UTC, datetime  # noqa: PLC0415

    from django.utils import timezone  # noqa: PLC0415

    # 23:00 in London is the next day in Auckland and the same in Los Angeles
    late = datetime(2026, 1, 15, 23, tzinfo=UTC)
    monkeypatch.setattr(timezone, "now", lambda: late)
    for zone, day in (
        ("Pacific/Auckland", "2026-01-16"),
        ("America/Los_Angeles", "2026-01-15"),
        ("UTC", "2026-01-15"),
    ):
        kept = grower("put", "accounts/preferences", {"time_zone": zone})[1]
        assert (kept["time_zone"], kept["today"]) == (zone, day)
    status, problem = grower("put", "accounts/preferences", {"time_zone": "Moon/Base"})
    assert (status, problem["errors"][0]["field"]) == (422, "time_zone")
    assert "Pacific/Auckland" in grower("get", "accounts/time-zones")[1]
    # one this machine does not know any more is no reason to keep anybody out
    from server.accounts.models import Grower  # noqa: PLC0415

    Grower.objects.filter(name="Ada").update(time_zone="Moon/Base")
    assert grower("get", "accounts/session")[1]["grower"]["today"] == "2026-01-15"


def test_a_new_grower_has_the_browsers_clock():
    api = Api(Client())
    body = {"name": "Cy", "password": PASSWORD, "time_zone": "Asia/Tokyo"}
    assert api("post", "accounts/sign-up", body)[1]["grower"]["time_zone"] == "Asia/Tokyo"
    # a browser that says nonsense keeps nobody out
    odd = body | {"name": "Di", "time_zone": "Moon/Base"}
    assert Api(Client())("post", "accounts/sign-up", odd)[1]["grower"]["time_zone"] == "UTC"


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"name": "Ada", "password": PASSWORD}, "name"),
        ({"name": "", "password": PASSWORD}, "name"),
        ({"name": "De\x00e", "password": PASSWORD}, "name"),
        ({"name": "Dee", "password": "short"}, "password"),
        ({"name": "Dee", "password": "password1"}, "password"),
        ({"name": "Dee"}, "password"),
        ({"name": "Marigold 99", "password": "marigold 99"}, "password"),
    ],
)
def test_accounts_that_cannot_be(grower, body, field):
    status, problem = Api(Client())("post", "accounts/sign-up", body)
    assert status == 422
    assert [error["field"] for error in problem["errors"]] == [field]
    assert problem["errors"][0]["sentence"].endswith(".")


def test_a_wrong_password_says_so_and_many_are_stopped(grower):
    api = Api(Client())
    for _ in range(7):
        status, problem = api("post", "accounts/sign-in", {"name": "Ada", "password": "wrong one"})
        assert (status, problem["errors"][0]["field"]) == (422, "password")
    api("post", "accounts/sign-in", {"name": "Ada", "password": "wrong one"})
    right = {"name": "Ada", "password": PASSWORD}
    status, problem = api("post", "accounts/sign-in", right)
    assert status == 429
    assert "wait a quarter" in problem["detail"]


def test_a_forged_form_is_refused(grower):
    forged = Client(enforce_csrf_checks=True)
    body = {"name": "Ada", "password": PASSWORD}
    reply = forged.post("/api/accounts/sign-in", body, content_type="application/json")
    assert reply.status_code == 403
    page = forged.get("/")
    token = page.cookies["csrftoken"].value
    reply = forged.post(
        "/api/accounts/sign-in", body, content_type="application/json", HTTP_X_CSRFTOKEN=token
    )
    assert reply.status_code == 200


@pytest.mark.parametrize(
    ("visitor", "let_in"),
    [
        ({"HTTP_HOST": "127.0.0.1:8800"}, True),
        ({"HTTP_HOST": "localhost"}, True),
        ({"HTTP_HOST": "127.0.0.1:8800", "REMOTE_ADDR": "192.0.2.7"}, False),
        ({"HTTP_HOST": "testserver"}, False),
        ({"HTTP_HOST": "127.0.0.1", "HTTP_X_FORWARDED_FOR": "192.0.2.7"}, False),
    ],
)
def test_the_demo_opens_itself_on_this_machine_only(settings, visitor, let_in):
    make_demo()
    client = Client(**visitor)
    assert client.get("/api/accounts/session").json()["grower"] is None
    settings.DEMO = True
    grower = client.get("/api/accounts/session").json()["grower"]
    assert (grower is not None) == let_in
    if let_in:
        assert grower["is_demo"]
        client.post("/api/accounts/sign-out")
        assert client.get("/api/accounts/session").json()["grower"] is None


def test_the_demo_is_made_once():
    assert make_demo().pk == make_demo().pk
