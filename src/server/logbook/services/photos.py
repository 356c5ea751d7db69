"""Keeping photographs: files of the grower's own, and entries of a run's log."""

import os
import shutil
from datetime import datetime
from pathlib import Path
from uuid import UUID

from django.conf import settings
from django.db import transaction

from server.common.problems import CanopyError
from server.logbook.adapters.photo import Shrunk, shrunk
from server.logbook.models import Entry, Photo
from server.logbook.services import keep_entries
from server.runs.models import Run

MOST_OF_RUN, MOST_OF_GROWER = 500, 3000


def folder_of(owner_id: int) -> Path:
    """Return where a grower's photographs lie."""
    return Path(settings.DATA) / "photos" / str(owner_id)


def file_of(photo: Photo, small: bool) -> Path:
    """Return where a photograph lies."""
    return folder_of(photo.owner_id) / f"{photo.key.hex}{'.small' if small else ''}.jpg"


def let_go(sender: object, owner_id: int, **_: object) -> None:
    """Remove the photographs of an account that is gone, once its rows are."""
    transaction.on_commit(lambda: shutil.rmtree(folder_of(owner_id), ignore_errors=True))


def keep_photo(run: Run, sent: bytes, key: UUID, at: datetime, note: str) -> Entry:
    """Keep a photograph with its entry; with one key it is kept once."""
    mine = Photo.objects.of(run.owner)
    known = mine.filter(key=key).first()
    if known is None:
        if mine.filter(run=run).count() >= MOST_OF_RUN or mine.count() >= MOST_OF_GROWER:
            raise CanopyError(f"{MOST_OF_RUN} photos are the most of one run.", "photo")
        # read and shrunk before anything is kept
        known = _keep(run, shrunk(sent), key, at, note)
    row: Entry = Entry.objects.of(run.owner).get(key=key)
    return row


def _keep(run: Run, picture: Shrunk, key: UUID, at: datetime, note: str) -> Photo:
    folder = folder_of(run.owner_id)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    written: list[Path] = []
    try:
        with transaction.atomic():
            photo: Photo = Photo.objects.create(
                owner=run.owner, run=run, key=key, width=picture.width, height=picture.height
            )
            for small, content in ((False, picture.large), (True, picture.small)):
                path = file_of(photo, small)
                write_file(path, content)
                written.append(path)
            values = {"photo": photo.pk}
            entry = {"kind": "photo", "at": at, "values": values, "text": note}
            keep_entries(run, [{**entry, "key": key, "replaces": None, "gone": False}])
    except BaseException:
        for path in written:
            path.unlink(missing_ok=True)
        raise
    return photo


def write_file(path: Path, content: bytes) -> None:
    """Write a file whole or not at all, for its owner alone."""
    draft = path.with_suffix(".part")
    with open(os.open(draft, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
        out.write(content)
        out.flush()
        os.fsync(out.fileno())
    draft.replace(path)
