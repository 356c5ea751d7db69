"""A signed-in grower and their rows."""

import json

import pytest
from django.test import Client

from canopy.words import Said, worded
from server.accounts import services
from server.accounts.services import make_account
from server.common.allowance import Allowance
from server.runs.demo import BOX_ROOM

PASSWORD = "wet gloves 7"


class Api:
    """A grower's client: JSON in, status and JSON out."""

    def __init__(self, client):
        self.client = client

    def __call__(self, method, path, body=None):
        send = getattr(self.client, method)
        data = {} if body is None else {"data": json.dumps(body)}
        reply = send(f"/api/{path}", content_type="application/json", **data)
        kind = reply.get("Content-Type", "")
        assert ("problem+json" in kind) == (reply.status_code >= 400), reply.content
        return reply.status_code, reply.json() if reply.content else None

    def named(self, path, name):
        """The row of a list with a name."""
        return next(row for row in self("get", path)[1] if row["name"] == name)


def said(notes):
    """Notes of an answer as the sentences a grower in centimetres reads."""
    return [worded(Said(**note)) for note in notes]


def signed_in(name):
    client = Client()
    client.force_login(make_account(name, PASSWORD), "django.contrib.auth.backends.ModelBackend")
    return Api(client)


@pytest.fixture
def grower(db):
    return signed_in("Ada")


@pytest.fixture
def stranger(db):
    return signed_in("Bo")


@pytest.fixture
def space(grower):
    return grower("post", "spaces", BOX_ROOM)[1]


@pytest.fixture
def run(grower, space):
    body = {
        "space_id": space["id"],
        "fixture_id": grower.named("fixtures", "Wickerlight Six")["id"],
        "crop_id": grower.named("crops", "Potted chrysanthemums")["id"],
    }
    status, made = grower("post", "runs", body)
    assert status == 201
    return made


def fields(problem):
    """The fields a refusal names."""
    return [error["field"] for error in problem["errors"]]


@pytest.fixture(autouse=True)
def unhurried(monkeypatch):
    """Let every test make its accounts, whatever others have made in the hour."""
    monkeypatch.setattr(services, "SIGN_UPS", Allowance(20 / 3600, 20))
