"""An account's password, its sessions, its end, and what its name is known by."""

import json

import pytest
from django.test import Client

from server.accounts import services
from server.accounts.models import Grower
from server.accounts.names import compared_name, shown_name
from server.common.allowance import Allowance
from server.common.problems import CanopyError
from server.runs.models import Run

PASSWORD = "a long grey password"


def send(client, path, **body):
    reply = client.post(f"/api/accounts/{path}", json.dumps(body), content_type="application/json")
    kind = reply.get("Content-Type", "")
    return reply.status_code, reply.json() if "json" in kind and reply.content else None


PASSWORD_OF_ADA = "correct horse battery"


def signed_in(client):
    return client.get("/api/accounts/session").json()["grower"] is not None


@pytest.fixture
def here(db):
    """Ada's own browser, with a password we know."""
    client = Client(HTTP_HOST="localhost")
    made = {"name": "Ada", "password": PASSWORD_OF_ADA}
    assert send(client, "sign-up", **made)[0] == 200
    return client


@pytest.fixture
def there(here):
    client = Client(HTTP_HOST="localhost")
    assert send(client, "sign-in", name="ada", password=PASSWORD_OF_ADA)[0] == 200
    return client


def test_another_password_ends_the_sessions_elsewhere(here, there):
    status, problem = send(here, "password", present="wrong one", new=PASSWORD)
    assert (status, problem["errors"][0]["field"]) == (422, "present")
    status, problem = send(here, "password", present=PASSWORD_OF_ADA, new="ＡＤＡ     ")
    assert (status, problem["errors"][0]["field"]) == (422, "new")
    assert signed_in(there)
    assert send(here, "password", present=PASSWORD_OF_ADA, new=PASSWORD)[0] == 204
    assert signed_in(here)
    assert not signed_in(there)
    assert send(Client(), "sign-in", name="Ada", password=PASSWORD_OF_ADA)[0] == 422
    assert send(Client(), "sign-in", name="Ada", password=PASSWORD)[0] == 200


def test_signed_out_everywhere_is_everywhere(here, there):
    status, answer = send(here, "sign-out-everywhere")
    assert (status, answer["grower"]) == (200, None)
    assert not signed_in(here)
    assert not signed_in(there)
    # and once more, in a later round
    assert send(here, "sign-in", name="Ada", password=PASSWORD_OF_ADA)[0] == 200
    assert signed_in(here)
    assert send(here, "sign-out-everywhere")[0] == 200
    assert not signed_in(here)


def test_an_account_goes_with_everything_of_it(here, settings, tmp_path):
    settings.DATA = tmp_path
    ada = Grower.objects.get(name="Ada")
    photos = tmp_path / "photos" / str(ada.pk)
    photos.mkdir(parents=True)
    (photos / "one.jpg").write_bytes(b"x")
    other = Client()
    assert send(other, "sign-up", name="Bo", password=PASSWORD)[0] == 200
    assert send(here, "delete", password="not it at all")[0] == 422
    assert signed_in(here)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("django.db.transaction.on_commit", lambda then: then())
        assert send(here, "delete", password=PASSWORD_OF_ADA)[0] == 200
    assert not Grower.objects.filter(name="Ada").exists()
    assert not Run.objects.filter(owner_id=ada.pk).exists()
    assert not photos.exists()
    assert not signed_in(here)
    # others keep theirs, and the name is free
    assert signed_in(other)
    assert send(here, "sign-up", name="Ada", password=PASSWORD)[0] == 200


def test_a_demo_has_nothing_to_change(demo_client):
    for path, body in (
        ("password", {"present": "x", "new": PASSWORD}),
        ("delete", {"password": "x"}),
        ("sign-out-everywhere", {}),
    ):
        status, problem = send(demo_client, path, **body)
        assert status == 422
        assert "demo" in problem["detail"]


@pytest.fixture
def demo_client(db):
    services.make_account("Demo grower", None, is_demo=True)
    client = Client()
    client.force_login(
        Grower.objects.get(is_demo=True), "django.contrib.auth.backends.ModelBackend"
    )
    return client


@pytest.mark.parametrize(
    "name", ["ADA", "ada", " Ada ", "A\u200bda", "\uff21da", "Ad\u00ada", "A\u2060da"]
)
def test_names_that_are_read_alike_are_one(here, name):
    status, problem = send(Client(), "sign-up", name=name, password=PASSWORD)
    assert (status, problem["detail"]) == (422, "That name is taken; choose another.")
    assert send(Client(), "sign-in", name=name, password=PASSWORD_OF_ADA)[0] == 200


@pytest.mark.parametrize(
    ("name", "known"),
    [("Straße", "strasse"), ("\ufb01n", "fin"), ("İnci", "i\u0307nci"), ("x\tY", "xy")],
)
def test_names_are_compared_by_unicodes_own_rules(name, known):
    """NFKC and full case folding, Unicode Standard annexes 15 and 21 (from memory)."""
    assert compared_name(name) == known
    assert compared_name(compared_name(name)) == compared_name(name)


def test_a_name_nobody_can_see_is_none():
    with pytest.raises(CanopyError, match="can be seen"):
        shown_name("\u200b\u3164 ")
    assert shown_name("Ad\u200ba   Lace") == "Ada Lace"


def test_sign_ups_from_one_address_are_limited(db, monkeypatch):
    monkeypatch.setattr(services, "SIGN_UPS", Allowance(20 / 3600, 2))
    got = [send(Client(), "sign-up", name=f"G{i}", password=PASSWORD)[0] for i in range(3)]
    assert got == [200, 200, 429]
    reply = Client(REMOTE_ADDR="10.0.0.9").post(
        "/api/accounts/sign-up",
        json.dumps({"name": "G9", "password": PASSWORD}),
        content_type="application/json",
    )
    assert reply.status_code == 200


@pytest.mark.parametrize("same", ["name", "address"])
def test_tries_are_counted_by_name_and_by_address(here, same):
    """Eight wrong ones lock a name whoever tries it, and an address whatever it tries."""
    status = 0
    for i in range(9):
        address = "10.0.0.5" if same == "address" else f"10.0.1.{i}"
        name = "Ada" if same == "name" else f"Nobody {i}"
        client = Client(REMOTE_ADDR=address)
        status, _ = send(client, "sign-in", name=name, password="wrong one here")
    assert status == 429
    # the right password from elsewhere: only where the name is not what was locked
    client = Client(REMOTE_ADDR="10.0.9.9")
    right, _ = send(client, "sign-in", name="ADA", password=PASSWORD_OF_ADA)
    assert right == (429 if same == "name" else 200)
