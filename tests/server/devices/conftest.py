"""A device with its token, and what it sends."""

import json

import pytest
from django.test import Client
from django.utils import timezone

from server.common.allowance import MESSAGES, REQUESTS, STRANGERS


@pytest.fixture(autouse=True)
def full_allowances():
    for allowance in (MESSAGES, REQUESTS, STRANGERS):
        allowance._buckets.clear()


class Sends:
    """A device at the HTTP door."""

    def __init__(self, made):
        self.id, self.token = made["device"]["id"], made["token"]
        self.client = Client()

    def headers(self):
        return {"HTTP_AUTHORIZATION": f"Bearer {self.token}"}

    def __call__(self, *messages, raw=None):
        body = (
            raw if raw is not None else json.dumps(messages if len(messages) > 1 else messages[0])
        )
        reply = self.client.post(
            "/api/door", data=body, content_type="application/json", **self.headers()
        )
        return reply.status_code, reply.json()

    def ask(self):
        reply = self.client.get("/api/door", **self.headers())
        return reply.status_code, reply.json()


def message(known, quantity="power", unit="W", value=146.2, at=None, **more):
    at = at or timezone.now()
    return {
        "id": str(known),
        "at": at.isoformat(),
        "quantity": quantity,
        "unit": unit,
        "value": value,
        **more,
    }


def added(grower, space, **changes):
    body = {"name": "Plug", "kind": "meter", "space_id": space["id"]} | changes
    status, made = grower("post", "devices", body)
    assert status == 201, made
    return Sends(made)


@pytest.fixture
def plug(grower, space):
    return added(grower, space)
