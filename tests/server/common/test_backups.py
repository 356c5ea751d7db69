"""Backups: whole whatever is written meanwhile, let go of in time, and put back."""

import os
import signal
import sqlite3
import subprocess
import sys
import threading
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from server.common import backups
from server.common.backups import back_up, backups_of, daily, is_whole, put_back, to_let_go
from server.common.private import own_folder, own_key
from server.common.problems import CanopyError

ROOT = Path(__file__).parents[3]
NOON = datetime(2026, 3, 1, 12, tzinfo=UTC)


@pytest.fixture
def database(tmp_path):
    """A small database that looks like ours."""
    path = tmp_path / "idle-canopy.sqlite3"
    with closing(sqlite3.connect(path)) as file:
        file.executescript(
            "PRAGMA journal_mode=WAL; CREATE TABLE django_migrations (id); "
            "CREATE TABLE accounts_grower (id INTEGER PRIMARY KEY, name TEXT); "
            "INSERT INTO accounts_grower VALUES (1, 'Ada');"
        )
    return path


def names(path):
    with closing(sqlite3.connect(path)) as file:
        return [row[0] for row in file.execute("SELECT name FROM accounts_grower ORDER BY id")]


def test_a_backup_is_whole_private_and_one_file(database):
    made = back_up(database)
    assert is_whole(made) == ""
    assert names(made) == ["Ada"]
    assert made.stat().st_mode & 0o777 == 0o600
    assert made.parent.stat().st_mode & 0o777 == 0o700
    assert [b.path for b in backups_of(database)] == [made]
    assert [p.name for p in made.parent.iterdir()] == [made.name]


def test_a_backup_taken_while_others_write_is_of_one_moment(database):
    """Rows are written in pairs: no copy holds one of a pair."""
    stop = threading.Event()

    def write():
        with closing(sqlite3.connect(database, timeout=30)) as file:
            at = 2
            while not stop.is_set():
                with file:
                    file.execute("INSERT INTO accounts_grower VALUES (?, ?)", (at, "x" * 2000))
                    file.execute("INSERT INTO accounts_grower VALUES (?, ?)", (at + 1, "y" * 2000))
                at += 2

    writer = threading.Thread(target=write)
    writer.start()
    try:
        for day in range(5):
            made = back_up(database, "daily", NOON + timedelta(days=day))
            assert is_whole(made) == ""
            assert len(names(made)) % 2 == 1
    finally:
        stop.set()
        writer.join()


def test_of_daily_ones_stay_seven_days_four_weeks_and_twelve_months(database):
    folder = own_folder(database.parent / backups.FOLDER)
    for day in range(800):
        at = NOON - timedelta(days=day)
        (folder / f"{database.stem}-{at:%Y%m%dT%H%M%SZ}-daily.sqlite3").touch()
    (folder / f"{database.stem}-20200101T000000Z-hand.sqlite3").touch()
    gone = {b.path for b in to_let_go(backups_of(database))}
    stay = [b for b in backups_of(database) if b.path not in gone]
    days = [b.at.date() for b in stay if b.kind == "daily"]
    assert days[-7:] == [(NOON - timedelta(days=d)).date() for d in range(6, -1, -1)]
    assert 7 + 3 + 10 <= len(days) <= 7 + 4 + 12
    # about a year back, and no further
    assert timedelta(days=300) < NOON.date() - days[0] < timedelta(days=366)
    assert any(b.kind == "hand" for b in stay)


def test_the_days_backup_is_made_once_a_day(database):
    assert daily(database, NOON) is not None
    assert daily(database, NOON + timedelta(hours=23)) is None
    assert daily(database, NOON + timedelta(hours=25)) is not None
    assert daily(database.with_name("none.sqlite3")) is None


def test_put_back_what_was_there_is_kept(database):
    made = back_up(database)
    with closing(sqlite3.connect(database)) as file, file:
        file.execute("INSERT INTO accounts_grower VALUES (2, 'Bo')")
    before = put_back(database, made)
    assert names(database) == ["Ada"]
    assert names(before) == ["Ada", "Bo"]
    assert put_back(database, before) is not None
    assert names(database) == ["Ada", "Bo"]


def test_put_back_into_an_empty_place(database, tmp_path):
    made = back_up(database)
    new = tmp_path / "elsewhere" / "idle-canopy.sqlite3"
    assert put_back(new, made) is None
    assert names(new) == ["Ada"]
    assert new.parent.stat().st_mode & 0o777 == 0o700


@pytest.mark.parametrize("wrong", ["missing", "text", "cut", "other"])
def test_what_is_no_backup_is_refused_and_changes_nothing(database, tmp_path, wrong):
    file = tmp_path / "odd.sqlite3"
    whole = back_up(database).read_bytes()
    if wrong == "text":
        file.write_text("no database at all")
    elif wrong == "cut":
        file.write_bytes(whole[: len(whole) // 2])
    elif wrong == "other":
        with closing(sqlite3.connect(file)) as other:
            other.execute("CREATE TABLE songs (id)")
    with pytest.raises(CanopyError):
        put_back(database, file)
    assert names(database) == ["Ada"]


def test_without_a_database_there_is_nothing_to_back_up(tmp_path):
    with pytest.raises(CanopyError, match="nothing to back up"):
        back_up(tmp_path / "none.sqlite3")


def test_a_full_disk_leaves_no_half_backup(database, monkeypatch):
    monkeypatch.setattr(
        backups.shutil, "disk_usage", lambda _: type("Usage", (), {"free": 10})(), False
    )
    with pytest.raises(CanopyError, match="make room"):
        back_up(database)
    assert backups_of(database) == []


def test_an_empty_key_is_made_anew_and_others_stay(tmp_path):
    key = tmp_path / "data" / "secret.key"
    made = own_key(key)
    assert len(made) > 50
    assert own_key(key) == made
    assert key.stat().st_mode & 0o777 == 0o600
    assert key.parent.stat().st_mode & 0o777 == 0o700
    key.write_text("")
    again = own_key(key)
    assert again
    assert again != made
    assert own_key(key) == again
    assert [p.name for p in key.parent.iterdir()] == ["secret.key"]


WRITER = """
import sys
import django
django.setup()
from server.accounts.models import Grower
from server.spaces.models import Space
ada = Grower.objects.get(name="Ada")
first = Space.objects.filter(owner=ada).first()
from server.common.rows import copy_of
for k in range(100000):
    row = copy_of(Space.objects.get(pk=first.pk), name=f"kept {sys.argv[1]} {k}")
    row.save()
    print(f"kept {sys.argv[1]} {k}", flush=True)
"""


@pytest.fixture(scope="module")
def real(tmp_path_factory):
    """A database of today's version with one grower and a space."""
    data = tmp_path_factory.mktemp("real")
    env = {
        **os.environ,
        "IDLE_CANOPY_DATA": str(data),
        "IDLE_CANOPY_DEMO": "",
        "DJANGO_SETTINGS_MODULE": "server.config.settings",
        "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}",
    }
    run = [sys.executable, str(ROOT / "manage.py")]
    old = (ROOT / "tests/server/common/databases/0.4.0.sql").read_text()
    path = data / "idle-canopy.sqlite3"
    with closing(sqlite3.connect(path)) as file:
        file.executescript(old)
    said = subprocess.run([*run, "prepare"], env=env, check=True, capture_output=True, text=True)
    return env, run, path, said.stdout


def test_an_upgrade_from_0_4_0_is_backed_up_before(real):
    _, _, path, said = real
    assert "Backed up before the upgrade" in said
    before = next(b for b in backups_of(path) if b.kind == "before-upgrade")
    assert is_whole(before.path) == ""
    with closing(sqlite3.connect(before.path)) as file:
        columns = [row[1] for row in file.execute("PRAGMA table_info(accounts_grower)")]
    assert "name_key" not in columns
    with closing(sqlite3.connect(path)) as file:
        keys = dict(file.execute("SELECT name, name_key FROM accounts_grower"))
    assert keys["Ada"] == "ada"


@pytest.mark.parametrize("trial", range(5))
def test_killed_while_it_writes_nothing_acknowledged_is_lost(real, trial):
    env, _, path, _ = real
    writer = subprocess.Popen(
        [sys.executable, "-c", WRITER, str(trial)], env=env, stdout=subprocess.PIPE, text=True
    )
    said = [writer.stdout.readline().strip() for _ in range(20 + 7 * trial)]
    writer.send_signal(signal.SIGKILL)
    said += writer.stdout.read().split("\n")
    writer.wait()
    kept = [line for line in said if line.startswith("kept ")]
    # the last line may be cut short by the kill
    kept = kept if said[-1] == "" else kept[:-1]
    assert is_whole(path) == ""
    with closing(sqlite3.connect(path)) as file:
        there = {row[0] for row in file.execute("SELECT name FROM spaces_space")}
    assert len(kept) >= 20
    assert set(kept) <= there


def test_backup_and_restore_by_their_commands(real, tmp_path):
    env, run, path, _ = real
    made = subprocess.run([*run, "backup"], env=env, check=True, capture_output=True, text=True)
    file = made.stdout.split(": ")[-1].strip()
    assert is_whole(Path(file)) == ""
    elsewhere = {**env, "IDLE_CANOPY_DATA": str(tmp_path / "new")}
    put = [*run, "restore", file]
    subprocess.run(put, env=elsewhere, check=True, capture_output=True)
    assert names(tmp_path / "new" / "idle-canopy.sqlite3") == names(path)
    none = subprocess.run([*run, "restore"], env=env, capture_output=True, text=True, check=False)
    assert none.returncode != 0
    assert "FILE=" in none.stderr
