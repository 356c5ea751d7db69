"""The server as it is run: headers, health, a full disk, half-open connections, behind a proxy."""

import json
import logging
import os
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from urllib.error import HTTPError

import pytest
from django.db import OperationalError, connection
from django.test import Client

from server.common import network
from server.common.logs import Lines
from server.common.management.commands import serve
from server.common.problems import failed
from server.runs.demo import BOX_ROOM

ROOT = Path(__file__).parents[3]


def test_answers_of_the_api_are_kept_by_no_one(grower):
    reply = grower.client.get("/api/spaces")
    assert reply["Cache-Control"] == "no-store"
    assert "camera=()" in reply["Permissions-Policy"]


def test_health_says_whether_the_database_can_be_read(db, monkeypatch):
    assert Client().get("/api/health").content == b"well\n"

    class Broken:
        def cursor(self):
            raise OperationalError("no such table")

    monkeypatch.setattr("server.common.pages.connection", Broken())
    assert Client().get("/api/health").status_code == 503


def test_a_full_disk_is_said_and_nothing_is_lost(grower, transactional_db):
    """SQLite's own limit of pages stands for the disk's end."""
    before = grower("get", "spaces")[1]
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA page_count")
        cursor.execute(f"PRAGMA max_page_count={cursor.fetchone()[0]}")
    client = Client(raise_request_exception=False, HTTP_HOST="localhost")
    client.cookies = grower.client.cookies
    statuses = set()
    try:
        for i in range(400):
            body = json.dumps({"name": f"Room {i} " + "x" * 60, **SPACE})
            reply = client.post("/api/spaces", body, content_type="application/json")
            statuses.add(reply.status_code)
            if reply.status_code == 507:
                assert "disk is full" in reply.json()["detail"]
                break
    finally:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA max_page_count=1073741823")
    assert 507 in statuses
    assert len(grower("get", "spaces")[1]) >= len(before)
    assert grower("post", "spaces", {"name": "After", **SPACE})[0] == 201


SPACE = {name: value for name, value in BOX_ROOM.items() if name != "name"}


def test_what_is_written_down_holds_no_secrets():
    record = logging.LogRecord("x", logging.ERROR, "", 0, "Cookie: sessionid=abc123; %s", (), None)
    record.args = ("Authorization: Bearer s3cret, password=hunter22",)
    line = json.loads(Lines().format(record))
    assert line["level"] == "error"
    for secret in ("abc123", "s3cret", "hunter22"):
        assert secret not in line["what"]


def test_an_address_is_shown_as_a_code(monkeypatch):
    door = network.doors(["192.168.1.20"], 8800)[0]
    assert door.url == "http://192.168.1.20:8800/"
    assert door.qr.startswith("data:image/svg+xml")
    rows = network.as_text(door.url).split("\n")
    assert len({len(row) for row in rows}) == 1
    assert all(not name.startswith("127.") for name in network.own_addresses())


def test_busy_full_and_broken_are_told_apart(rf):
    for error, status in (
        (OperationalError("database is locked"), 503),
        (OperationalError("database or disk is full"), 507),
        (OSError(28, "No space left on device"), 507),
        (RuntimeError("odd"), 500),
    ):
        try:
            raise error
        except type(error):
            assert failed(rf.get("/api/x")).status_code == status


def _free_port():
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


@pytest.fixture(scope="module")
def served(tmp_path_factory):
    """The server behind a proxy on this machine, as docs/running.md sets it up."""
    data, port = tmp_path_factory.mktemp("served"), _free_port()
    env = {
        **os.environ,
        "IDLE_CANOPY_DATA": str(data),
        "IDLE_CANOPY_DEMO": "",
        "IDLE_CANOPY_HTTPS": "1",
        "IDLE_CANOPY_HOSTS": "grow.example",
        "DJANGO_SETTINGS_MODULE": "server.config.settings",
        "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}",
    }
    run = [sys.executable, str(ROOT / "manage.py")]
    deployed = subprocess.run(
        [*run, "check", "--deploy"], env=env, check=True, capture_output=True, text=True
    )
    subprocess.run([*run, "prepare"], env=env, check=True, capture_output=True)
    server = subprocess.Popen([*run, "serve", "--port", str(port)], env=env, stdout=subprocess.PIPE)
    assert server.stdout.readline()
    yield port, deployed.stdout
    server.terminate()
    server.wait()


class Proxied:
    """A browser behind a TLS proxy: what it sends arrives with the proxy's headers."""

    def __init__(self, port, **more):
        self.port, self.cookies = port, {}
        self.headers = {
            "Host": "grow.example",
            "X-Forwarded-For": "203.0.113.9",
            "X-Forwarded-Proto": "https",
            "X-Forwarded-Host": "grow.example",
            **more,
        }

    def __call__(self, method, path, body=None):
        data = None if body is None else json.dumps(body).encode()
        headers = {**self.headers, "Content-Type": "application/json"}
        headers["Cookie"] = "; ".join(f"{k}={v}" for k, v in self.cookies.items())
        if "csrftoken" in self.cookies:
            headers["X-CSRFToken"] = self.cookies["csrftoken"]
            headers["Referer"] = headers["Origin"] = "https://grow.example"
        url = f"http://127.0.0.1:{self.port}{path}"
        request = urllib.request.Request(url, data, headers, method=method.upper())
        opener = urllib.request.build_opener(NoRedirects)
        try:
            reply = opener.open(request, timeout=20)
        except HTTPError as error:
            reply = error
        for cookie in reply.headers.get_all("Set-Cookie") or []:
            name, value = cookie.split(";")[0].split("=", 1)
            self.cookies[name] = value
            self.flags = cookie
        return reply.status, reply.headers, reply.read()


class NoRedirects(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *args):
        return None


def test_behind_a_proxy_with_tls_one_can_sign_up(served):
    port, deployed = served
    assert "no issues" in deployed
    browser = Proxied(port)
    status, headers, _ = browser("get", "/")
    assert status == 200
    assert "max-age=31536000" in headers["Strict-Transport-Security"]
    assert "Secure" in browser.flags
    new = {"name": "Eve", "password": "a long grey password"}
    status, _, body = browser("post", "/api/accounts/sign-up", new)
    assert status == 200, body
    status, _, body = browser("get", "/api/accounts/doors")
    assert (status, json.loads(body)[0]["url"]) == (200, "https://grow.example/")


def test_without_tls_everything_but_health_is_sent_to_https(served):
    port, _ = served
    plain = Proxied(port, **{"X-Forwarded-Proto": "http"})
    status, headers, _ = plain("get", "/")
    assert (status, headers["Location"]) == (301, "https://grow.example/")
    assert plain("get", "/api/health")[0] == 200


def test_half_open_connections_do_not_block_the_next(served):
    """A hundred and ten that say nothing, ten of them in the middle of a request."""
    port, _ = served
    opened = []
    try:
        for i in range(110):
            half = socket.create_connection(("127.0.0.1", port), timeout=5)
            if i % 11 == 0:
                half.sendall(b"GET / HTTP/1.1\r\nHost: grow.ex")
            opened.append(half)
        start = time.monotonic()
        assert Proxied(port)("get", "/api/health")[0] == 200
        assert time.monotonic() - start < 15
    finally:
        for half in opened:
            half.close()


def test_the_demo_is_served_to_this_machine_only(settings):
    settings.DEMO = True
    with pytest.raises(serve.CommandError, match="make serve"):
        serve.Command().handle(host="0.0.0.0", port="8811")
