"""Files that are nobody else's: the folder of the data, the database, the key, backups."""

import os
import secrets
from pathlib import Path

FOLDER, FILE = 0o700, 0o600


def own_folder(path: Path) -> Path:
    """Return a folder only its owner can look into, made where it is missing."""
    path.mkdir(mode=FOLDER, parents=True, exist_ok=True)
    _close(path, FOLDER)
    return path


def own_file(path: Path) -> None:
    """Let only its owner read a file that is there."""
    _close(path, FILE)


def _close(path: Path, mode: int) -> None:
    try:
        if path.stat().st_mode & 0o777 != mode and path.stat().st_uid == os.getuid():
            path.chmod(mode)
    except FileNotFoundError:
        pass


def own_key(path: Path) -> str:
    """Return an installation's key, made on its first start; an empty one is made anew.

    Of several that start together one makes it.
    """
    own_folder(path.parent)
    for _ in range(20):
        try:
            kept = path.read_text().strip()
        except FileNotFoundError:
            kept = ""
        if kept:
            own_file(path)
            return kept
        new = path.with_name(f"{path.name}.{secrets.token_hex(8)}")
        with os.fdopen(os.open(new, os.O_WRONLY | os.O_CREAT | os.O_EXCL, FILE), "w") as file:
            file.write(secrets.token_urlsafe(50))
            file.flush()
            os.fsync(file.fileno())
        if path.exists() and path.stat().st_size == 0:
            path.unlink(missing_ok=True)
        try:
            # whoever links first has made it
            os.link(new, path)
        except FileExistsError:
            pass
        finally:
            new.unlink(missing_ok=True)
    raise RuntimeError(f"The key in {path} cannot be read; remove it and start again.")
