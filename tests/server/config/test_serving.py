"""Starting the server, and several hands at once."""

import http.client
import json
import os
import socket
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import Barrier

import pytest
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.test import Client

from server.accounts.models import Grower
from server.runs.demo import BOX_ROOM
from tests.server.conftest import signed_in
from tests.server.sent import SMALL_LDT, WISHES

SCRIPTS = Path(__file__).parents[3] / "scripts"


@pytest.mark.parametrize("port", ["0", "70000", "many", "-1"])
def test_ports_that_cannot_be(port):
    with pytest.raises(CommandError, match="is not a port"):
        call_command("serve", port=port)


def test_a_taken_port_is_said():
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        taken = other.getsockname()[1]
        with pytest.raises(CommandError, match=f"Port {taken} is taken.*PORT={taken + 1}"):
            call_command("serve", port=str(taken))


@pytest.mark.parametrize(
    ("script", "words"),
    [("need_node.sh", "Install Node.js 20.19"), ("need_python.sh", "Install Python 3.11")],
)
def test_what_is_missing_is_said_in_a_sentence(script, words, tmp_path):
    done = subprocess.run(
        ["/bin/sh", SCRIPTS / script], env={"PATH": str(tmp_path)}, capture_output=True, text=True
    )
    assert done.returncode == 1
    assert words in done.stderr
    assert done.stderr.count("\n") == 1


def test_an_old_node_is_said(tmp_path):
    for name, text in (("node", "case $1 in -p) echo 18.2.0;; *) exit 1;; esac"), ("npm", "true")):
        (tmp_path / name).write_text(f"#!/bin/sh\n{text}\n")
        (tmp_path / name).chmod(0o755)
    done = subprocess.run(
        ["/bin/sh", SCRIPTS / "need_node.sh"],
        env={"PATH": str(tmp_path)},
        capture_output=True,
        text=True,
    )
    assert "Node.js 18.2.0 is too old" in done.stderr


def test_the_demo_command_twice(db, capsys):
    call_command("demo")
    call_command("demo")
    assert Grower.objects.filter(is_demo=True).count() == 1


@pytest.mark.django_db(transaction=True)
def test_many_hands_write_at_once_and_nothing_is_lost():
    api = signed_in("Ada")
    cookies = api.client.cookies

    def add(number):
        client = Client()
        client.cookies = cookies
        body = json.dumps({**BOX_ROOM, "name": f"Tent {number}"})
        reply = client.post("/api/spaces", body, content_type="application/json")
        connection.close()
        return reply.status_code

    with ThreadPoolExecutor(6) as hands:
        assert set(hands.map(add, range(24))) == {201}
    names = {space["name"] for space in api("get", "spaces")[1]}
    assert names == {f"Tent {n}" for n in range(24)}


def at_once(cookies, *requests):
    """Send requests at the same moment, each by a hand of its own; return their statuses."""
    together = Barrier(len(requests))

    def send(path, body):
        client = Client()
        client.cookies = cookies
        together.wait()
        reply = client.put(f"/api/{path}", json.dumps(body), content_type="application/json")
        connection.close()
        return reply.status_code

    with ThreadPoolExecutor(len(requests)) as hands:
        return list(hands.map(lambda request: send(*request), requests))


@pytest.mark.django_db(transaction=True)
def test_two_answered_changes_are_both_kept():
    api = signed_in("Ada")
    cookies = api.client.cookies
    space = api("post", "spaces", BOX_ROOM)[1]
    six, board = (api.named("fixtures", n)["id"] for n in ("Wickerlight Six", "Tallow Board 100"))
    crop = api.named("crops", "Lettuce")["id"]
    body = {"space_id": space["id"], "fixture_id": six, "crop_id": crop}
    run = f"runs/{api('post', 'runs', body)[1]['id']}"
    lamp = f"fixtures/{board}"
    api("put", f"{lamp}/photometry", {"text": SMALL_LDT, "unit": "umol/s/sr"})
    for turn in range(25):
        other = turn % 2 == 0
        changes = (
            (run, body | {"fixture_id": board if other else six, "over_cap": other}),
            (f"{run}/wishes", WISHES | {"rise_pct": 10.0 + turn}),
        )
        assert at_once(cookies, *changes) == [200, 200]
        kept = api("get", "runs")[1][0]
        assert (kept["fixture_id"], kept["over_cap"], kept["rise_pct"]) == (
            board if other else six,
            other,
            10.0 + turn,
        )
        source = "photometric" if other else "model"
        assert at_once(
            cookies,
            (f"{lamp}/shelf", {"removed": other}),
            (f"{lamp}/light-source", {"light_source": source}),
        ) == [200, 200]
        shown = api.named("fixtures", "Tallow Board 100")
        assert (shown["removed"], shown["light_source"]) == (other, source)


@pytest.mark.parametrize(
    ("headers", "name"),
    [
        ({}, "Demo grower"),
        ({"X-Forwarded-For": "10.0.0.7"}, None),
        ({"Forwarded": "for=10.0.0.7"}, None),
        ({"X-Real-IP": "10.0.0.7"}, None),
        ({"Via": "1.1 proxy"}, None),
        ({"Host": "canopy.example"}, "refused"),
    ],
)
def test_the_demo_signs_in_only_who_sits_at_this_machine(served_demo, headers, name):
    """Through the real server: a proxy on this machine that rewrites the host opens nothing."""
    asked = http.client.HTTPConnection("127.0.0.1", served_demo, timeout=20)
    asked.request("GET", "/api/accounts/session", headers=headers)
    reply = asked.getresponse()
    body = reply.read()
    asked.close()
    if name == "refused":
        assert reply.status == 400
        return
    grower = json.loads(body)["grower"]
    assert (grower and grower["name"]) == name


@pytest.fixture(scope="module")
def served_demo(tmp_path_factory):
    """The demo as `make demo` serves it, on a free port."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    env = {
        **os.environ,
        "IDLE_CANOPY_DEMO": "1",
        "IDLE_CANOPY_DATA": str(tmp_path_factory.mktemp("demo")),
        "DJANGO_SETTINGS_MODULE": "server.config.settings",
    }
    manage = [sys.executable, str(SCRIPTS.parent / "manage.py")]
    for command in ("migrate", "demo"):
        subprocess.run([*manage, command], env=env, check=True, capture_output=True)
    server = subprocess.Popen(
        [*manage, "serve", "--port", str(port)],
        env=env,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
    )
    try:
        assert b"Idle Canopy" in server.stdout.readline()
        yield port
    finally:
        server.terminate()
        server.wait(timeout=20)


@pytest.mark.django_db(transaction=True)
def test_many_ask_the_bench_at_once_and_get_one_answer():
    api = signed_in("Ada")
    space = api("post", "spaces", {**BOX_ROOM, "width_cm": 111})[1]
    body = {
        "space_id": space["id"],
        "fixture_id": api.named("fixtures", "Wickerlight Six")["id"],
        "crop_id": api.named("crops", "Lettuce")["id"],
    }
    run = api("post", "runs", body)[1]
    path = f"/api/runs/{run['id']}/stages/{run['stage_id']}/bench"
    cookies = api.client.cookies

    def ask(_):
        client = Client()
        client.cookies = cookies
        answer = client.get(path).json()
        connection.close()
        return json.dumps(answer, sort_keys=True)

    with ThreadPoolExecutor(6) as hands:
        assert len(set(hands.map(ask, range(12)))) == 1


def test_the_page_and_its_headers(db):
    page = Client().get("/bench")
    policy = page["Content-Security-Policy"]
    assert "unsafe-inline" not in policy
    assert "default-src 'none'" in policy
    assert page["X-Frame-Options"] == "DENY"
    assert "no-store" in page["Cache-Control"]
    assert Client().get("/api/nowhere").status_code == 404
