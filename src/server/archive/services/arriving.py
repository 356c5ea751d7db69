"""An archive on its way in, piece by piece: as large as a phone's memory, over a poor signal."""

import os
import shutil
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import IO
from uuid import UUID

from django.conf import settings

from server.accounts.models import Grower
from server.common.problems import CanopyError

MOST_PIECE = 8 * 1024**2
MOST_ARCHIVE = 1024**3
LEFT_FREE = 512 * 1024**2
"""The disk keeps so much free, whatever arrives."""

FORGOTTEN_S = 24 * 3600

DRAFT = "archive-"
"""How the name of an archive that is being written begins."""


def forget(sender: object, owner_id: int, **_: object) -> None:
    """Remove what was arriving for an account that is gone."""
    shutil.rmtree(Path(settings.DATA) / "arriving" / str(owner_id), ignore_errors=True)


def _folder(grower: Grower) -> Path:
    return Path(settings.DATA) / "arriving" / str(grower.pk)


def _file(grower: Grower, key: UUID) -> Path:
    return _folder(grower) / f"{key.hex}.zip"


def take(grower: Grower, key: UUID, at: int, piece: bytes) -> int:
    """Append a piece at its place; return how many bytes there are by now.

    A piece that is there already is passed over, so that it can be sent again. Of one grower one
    archive is on its way: another begun lets go of the one before.

    Raises
    ------
    CanopyError
        When it is too much, or pieces are missing before it.
    """
    forget_old()
    folder, path = _folder(grower), _file(grower, key)
    if at == 0 and not path.exists():
        shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    size = path.stat().st_size if path.exists() else 0
    if at + len(piece) <= size:
        return size
    if at != size:
        raise CanopyError(f"{size} bytes have arrived so far; go on from there.", "at")
    if size + len(piece) > MOST_ARCHIVE:
        raise CanopyError(f"An archive has {MOST_ARCHIVE // 1024**3} GB at most.", "archive")
    if shutil.disk_usage(folder).free < LEFT_FREE + len(piece):
        raise CanopyError("There is too little room left on this machine's disk.", "archive")
    with open(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600), "ab") as out:
        out.write(piece)
    return size + len(piece)


@contextmanager
def arrived(grower: Grower, key: UUID) -> Iterator[IO[bytes]]:
    """Open what has arrived.

    Raises
    ------
    CanopyError
        When nothing of it has.
    """
    try:
        with _file(grower, key).open("rb") as file:
            yield file
    except FileNotFoundError as error:
        raise CanopyError("Nothing of it has arrived; send it again.", "archive") from error


def let_go(grower: Grower) -> None:
    """Let go of what has arrived."""
    shutil.rmtree(_folder(grower), ignore_errors=True)


def forget_old() -> None:
    """Let go of what nobody went on with for a day, and of what a stop left half written."""
    data = Path(settings.DATA)
    for path in (*data.glob("arriving/*/*.zip"), *data.glob(f"{DRAFT}*"), *data.glob("photos-*")):
        with suppress(FileNotFoundError):
            if time.time() - path.stat().st_mtime > FORGOTTEN_S:
                shutil.rmtree(path) if path.is_dir() else path.unlink()
