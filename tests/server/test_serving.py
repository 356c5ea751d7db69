"""Starting the server, and several hands at once."""

import json
import socket
import subprocess
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.test import Client

from server.accounts.models import Grower
from server.runs.demo import BOX_ROOM
from tests.server.conftest import signed_in

SCRIPTS = Path(__file__).parents[2] / "scripts"


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
        env={"PATH": str(tmp_path)}, capture_output=True, text=True,
    )  # fmt: skip
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
