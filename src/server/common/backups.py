"""Backups of the database: made while it is in use, looked over, kept for a while, and put back.

Photographs lie beside the database as files that are never changed; a backup names none of them,
and leaves them where they are. Times in names are UTC.
"""

import os
import re
import shutil
import sqlite3
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from canopy.errors import CanopyError
from server.common.private import own_file, own_folder

FOLDER = "backups"
KINDS = ("daily", "hand", "before-upgrade", "before-restore")
DAYS, WEEKS, MONTHS = 7, 4, 12
"""So many days, weeks and months are kept of the daily ones."""

MOST_BEFORE = 12
"""And so many of each that were made before something."""

EVERY = timedelta(hours=24)
NAME = re.compile(r"(?P<stem>[\w-]+?)-(?P<at>\d{8}T\d{6}Z)-(?P<kind>[a-z-]+)\.sqlite3")
PAGES = 2000
"""Copied at once; between them those who write go on."""


@dataclass(frozen=True)
class Backup:
    """One file, when it was made, and what for."""

    path: Path
    at: datetime
    kind: str


def backups_of(database: Path) -> list[Backup]:
    """Return a database's backups, the oldest first."""
    found = []
    for path in sorted((database.parent / FOLDER).glob("*.sqlite3")):
        name = NAME.fullmatch(path.name)
        if name and name["stem"] == database.stem:
            at = datetime.strptime(name["at"], "%Y%m%dT%H%M%SZ").replace(tzinfo=UTC)
            found.append(Backup(path, at, name["kind"]))
    return found


def _open(path: Path, only_read: bool = False) -> sqlite3.Connection:
    if only_read:
        return sqlite3.connect(f"{path.as_uri()}?mode=ro", uri=True, timeout=30)
    return sqlite3.connect(path, timeout=30)


def is_whole(path: Path) -> str:
    """Return what is wrong with a database file, empty when it is whole and ours."""
    try:
        with closing(_open(path, only_read=True)) as file:
            found = file.execute("PRAGMA integrity_check").fetchall()
            if found != [("ok",)]:
                return "it is damaged: " + "; ".join(str(row[0]) for row in found[:3])
            tables = {row[0] for row in file.execute("SELECT name FROM sqlite_master")}
    except sqlite3.Error as error:
        return f"it is no database ({error})"
    if not {"django_migrations", "accounts_grower"} <= tables:
        return "it holds no Idle Canopy data"
    return ""


def back_up(database: Path, kind: str = "hand", now: datetime | None = None) -> Path:
    """Make a backup of a database that may be in use, looked over.

    Raises
    ------
    CanopyError
        When there is no database, no room, or the copy is not whole.
    """
    if not database.exists():
        raise CanopyError(f"There is no database at {database} yet; nothing to back up.")
    at = now or datetime.now(UTC)
    folder = own_folder(database.parent / FOLDER)
    free, needed = shutil.disk_usage(folder).free, database.stat().st_size
    if free < needed * 1.1:
        raise CanopyError(
            f"The disk has {free // 2**20} MB left and the backup needs {needed // 2**20 + 1}; "
            "make room and try again."
        )
    while (final := folder / f"{database.stem}-{at:%Y%m%dT%H%M%SZ}-{kind}.sqlite3").exists():
        at += timedelta(seconds=1)
    new = final.with_suffix(".new")
    new.unlink(missing_ok=True)
    os.close(os.open(new, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600))
    try:
        with closing(_open(database, only_read=True)) as source, closing(_open(new)) as copy:
            source.backup(copy, pages=PAGES, sleep=0.001)
            # one file by itself: no journal has to go with it
            copy.execute("PRAGMA journal_mode=DELETE")
        wrong = is_whole(new)
        if wrong:
            raise CanopyError(f"The backup was not kept: {wrong}. Look at the disk.")
        with new.open("rb") as file:
            os.fsync(file.fileno())
        new.replace(final)
    except (sqlite3.Error, OSError) as error:
        raise CanopyError(f"The backup could not be made: {error}.") from error
    finally:
        new.unlink(missing_ok=True)
    own_file(final)
    return final


def to_let_go(backups: list[Backup]) -> list[Backup]:
    """Return those that are kept no longer.

    Of the daily ones stay the newest of each of the last seven days, four weeks and twelve months
    that have one, of those made before something the last dozen; those made by hand stay.
    """
    daily = [each for each in backups if each.kind == "daily"]
    stay: set[Path] = set()
    for most, when in ((DAYS, "%Y-%m-%d"), (WEEKS, "%G-%V"), (MONTHS, "%Y-%m")):
        newest = {f"{each.at:{when}}": each.path for each in daily}
        stay |= {newest[key] for key in sorted(newest)[-most:]}
    for kind in ("before-upgrade", "before-restore"):
        stay |= {each.path for each in [b for b in backups if b.kind == kind][-MOST_BEFORE:]}
    return [each for each in backups if each.kind != "hand" and each.path not in stay]


def daily(database: Path, now: datetime | None = None) -> Path | None:
    """Make the day's backup if it is due, and let go of those kept no longer."""
    at = now or datetime.now(UTC)
    last = max((b.at for b in backups_of(database) if b.kind == "daily"), default=None)
    if not database.exists() or (last is not None and at - last < EVERY):
        return None
    made = back_up(database, "daily", at)
    for each in to_let_go(backups_of(database)):
        each.path.unlink(missing_ok=True)
    return made


def put_back(database: Path, file: Path) -> Path | None:
    """Put a backup in a database's place; return what was there before, backed up.

    Who has it open sees the other from the next moment on: it is written as one transaction.

    Raises
    ------
    CanopyError
        When the file is none of ours, or the database cannot be written.
    """
    if not file.exists():
        raise CanopyError(f"There is no file {file}; give the backup's path: FILE=…")
    wrong = is_whole(file)
    if wrong:
        raise CanopyError(f"{file.name} cannot be put back: {wrong}.")
    own_folder(database.parent)
    before = back_up(database, "before-restore") if database.exists() else None
    try:
        with closing(_open(file, only_read=True)) as source, closing(_open(database)) as target:
            source.backup(target)
            target.execute("PRAGMA journal_mode=WAL")
    except sqlite3.Error as error:
        raise CanopyError(f"It could not be put back: {error}. Stop the server first.") from error
    own_file(database)
    return before
