"""The server's database under a stream of writes, killed again and again."""

import os
import random
import signal
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path
from tempfile import TemporaryDirectory

from benchmarks.demo_server import ROOT

Row = tuple[str, str, str]
TRIALS = 50

WRITER = """
import sys
import django
django.setup()
from server.accounts.services import make_account
from server.spaces.models import Space
from server.runs.demo import BOX_ROOM
from server.spaces.services import add_space
from server.accounts.models import Grower
ada = Grower.objects.filter(name="Ada").first() or make_account("Ada", None)
first = Space.objects.filter(owner=ada).first() or add_space(ada, dict(BOX_ROOM))
from server.common.rows import copy_of
for k in range(100000):
    copy_of(Space.objects.get(pk=first.pk), name=f"kept {sys.argv[1]} {k}").save()
    print(f"kept {sys.argv[1]} {k}", flush=True)
"""


def measure() -> list[Row]:
    """Return a row: how many rows that were acknowledged are not there."""
    chance, said, lost, damaged = random.Random(11), 0, 0, 0
    with TemporaryDirectory() as data:
        env = {
            **os.environ,
            "IDLE_CANOPY_DATA": data,
            "IDLE_CANOPY_DEMO": "",
            "DJANGO_SETTINGS_MODULE": "server.config.settings",
        }
        prepare = [sys.executable, str(ROOT / "manage.py"), "prepare"]
        subprocess.run(prepare, env=env, check=True, capture_output=True)
        path = Path(data) / "idle-canopy.sqlite3"
        for trial in range(TRIALS):
            writer = subprocess.Popen(
                [sys.executable, "-c", WRITER, str(trial)],
                env=env,
                stdout=subprocess.PIPE,
                text=True,
            )
            assert writer.stdout is not None
            lines = [writer.stdout.readline() for _ in range(chance.randint(1, 120))]
            writer.send_signal(signal.SIGKILL)
            lines += writer.stdout.readlines()
            writer.wait()
            kept = {line.strip() for line in lines if line.endswith("\n")}
            with closing(sqlite3.connect(path)) as file:
                damaged += file.execute("PRAGMA integrity_check").fetchone() != ("ok",)
                there = {row[0] for row in file.execute("SELECT name FROM spaces_space")}
            said += len(kept)
            lost += len(kept - there)
    words = f"{lost} lost of {said} rows acknowledged, {damaged} databases damaged"
    return [(f"{TRIALS} kills under a stream of writes", words, "none")]
