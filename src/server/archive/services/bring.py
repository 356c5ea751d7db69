"""Bringing an archive in: all of it, or nothing.

A row that is here already stays as it is, unless the archive's has been changed more often since:
then it is the later state of the same row.
"""

import shutil
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from itertools import islice
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import IO, Any, Literal
from uuid import UUID

from django.conf import settings
from django.db import IntegrityError, connection, models, transaction

from server.accounts.models import Grower
from server.archive.adapters.inward import (
    POINT_KINDS,
    UNIT_OF,
    ArchiveReader,
    Looked,
    ReadRow,
    looked,
    points_in,
    renumbered,
    rows_in,
)
from server.archive.adapters.kinds import KIND_OF, KINDS, NUMBERED, Kind
from server.archive.services import alone
from server.common.problems import CanopyError
from server.common.rows import keep
from server.crops.models import Crop, Stage
from server.devices.models import Device, Series
from server.devices.selectors import FIVE_MIN_MS
from server.devices.services.intake import NEWEST, NOTE_UNSUMMED
from server.devices.services.keeping import sum_up
from server.fixtures.models import Fixture, LightMap
from server.logbook.adapters.photo import as_kept
from server.logbook.models import Photo
from server.logbook.services.photos import MOST_OF_GROWER, file_of, folder_of, write_file
from server.runs.models import Arrangement, Run, RunLamp
from server.spaces.models import Space

AT_ONCE = 400

# names of tables and columns are the models' own
STAMP = 'UPDATE "{}" SET {} WHERE "id" = %s'
KEEP = 'INSERT OR IGNORE INTO "{}" ({}) VALUES ({})'

Fate = Literal["new", "later", "kept"]

TABLE_OF = {
    "readings": "devices_reading",
    "five_minutes": "devices_fiveminutes",
    "hours": "devices_hour",
}


@dataclass
class Brought:
    """What became of an archive's rows, by kind; ``ignored`` names what nobody knows here."""

    new: dict[str, int] = field(default_factory=dict)
    later: dict[str, int] = field(default_factory=dict)
    kept: dict[str, int] = field(default_factory=dict)
    ignored: list[str] = field(default_factory=list)

    def count(self, kind: str, fate: Fate, by: int = 1) -> None:
        """Count rows of a kind."""
        if not by:
            return
        counts: dict[str, int] = getattr(self, fate)
        counts[kind] = counts.get(kind, 0) + by


class _TriedError(Exception):
    """All went well, and nothing is to be kept."""


def bring_in(grower: Grower, source: IO[bytes], really: bool) -> Brought:
    """Bring an archive in beside what is here, or only tell what that would do.

    Raises
    ------
    CanopyError
        When something of it cannot be; then nothing of it is kept.
    BusyError
        When others are being read for too long.
    """
    with alone():
        reader = ArchiveReader(source)
        found = looked(reader)
        bringing = _Bringing(grower, reader, found)
        with TemporaryDirectory(dir=settings.DATA, prefix="photos-") as drafts:
            photos = bringing.photos_to(Path(drafts))
            try:
                with transaction.atomic():
                    bringing.all_kinds()
                    if not really:
                        raise _TriedError
                    _moved(photos)
            except _TriedError:
                pass
            except IntegrityError as error:
                raise CanopyError(
                    "Rows of this archive do not go together with those that are here; nothing of "
                    "it was kept. Bring it into an account of its own.",
                    "archive",
                ) from error
    return bringing.told


def _moved(photos: list[tuple[Path, Path]]) -> None:
    """Put photographs where they belong; all of them, or none."""
    done: list[Path] = []
    try:
        for draft, path in photos:
            path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
            shutil.move(draft, path)
            done.append(path)
    except BaseException:
        for path in done:
            path.unlink(missing_ok=True)
        raise


class _Bringing:
    """One archive on its way in."""

    def __init__(self, grower: Grower, reader: ArchiveReader, found: Looked) -> None:
        self.grower, self.reader, self.found = grower, reader, found
        self.told = Brought(ignored=found.ignored)
        self.ids: dict[type[models.Model], dict[UUID, int]] = {k.model: {} for k in KINDS}
        self.fates: dict[type[models.Model], dict[int, Fate]] = {k.model: {} for k in KINDS}
        self.numbers: dict[str, dict[int, int]] = {name: {} for name in NUMBERED}
        self.maps_of: list[tuple[int, UUID]] = []

    def photos_to(self, drafts: Path) -> list[tuple[Path, Path]]:
        """Return the photographs that are not here yet, checked and written to a folder."""
        here = set(Photo.objects.of(self.grower).values_list("key", flat=True))
        new = [key for key, there in self.found.photos.items() if there and key not in here]
        if len(here) + len(new) > MOST_OF_GROWER:
            raise CanopyError(f"{MOST_OF_GROWER} photos are the most one grower can have.")
        found = []
        for key in new:
            picture = as_kept(self.reader.photo(key), f"photos/{key}.jpg")
            photo = Photo(owner_id=self.grower.pk, key=key)
            for small, content in ((False, picture.large), (True, picture.small)):
                path = file_of(photo, small)
                draft = drafts / path.name
                write_file(draft, content)
                found.append((draft, folder_of(self.grower.pk) / path.name))
        lost = sum(not there for there in self.found.photos.values())
        if lost:
            self.told.ignored.append(f"{lost} photos without their file")
        return found

    def all_kinds(self) -> None:
        """Keep all rows, those that are named before those that name them."""
        empty = not Run.objects.of(self.grower).exists()
        empty = empty and not Space.objects.of(self.grower).exists()
        for kind in KINDS:
            self._kind(kind)
            self._room(kind)
        for pk, key in self.maps_of:
            Fixture.objects.filter(pk=pk).update(light_map_id=self.ids[LightMap][key])
        for name in POINT_KINDS:
            self._points(name)
        sum_up(self.ids[Series].values())
        if empty and self.found.account:
            keep(self.grower, **self.found.account)

    def _room(self, kind: Kind) -> None:
        if not kind.parent:
            count = kind.model._default_manager.filter(**{kind.owned: self.grower}).count()
            if count > kind.most:
                raise CanopyError(f"{kind.most} {kind.name} are the most one grower can have.")

    def _kind(self, kind: Kind) -> None:
        self._make_way(kind)
        rows = kind.model._default_manager.filter(**{kind.owned: self.grower}).order_by()
        versioned = "version" in {f.name for f in kind.columns}
        columns = ["pk", kind.key, *(["version"] if versioned else [])]
        here = {row[1]: (row[0], row[2] if versioned else 0) for row in rows.values_list(*columns)}
        alike = self._alike(kind, rows)
        pending: list[tuple[UUID, models.Model, ReadRow]] = []
        for row in rows_in(self.reader, kind, []):
            values = self._values(kind, row, pending)
            if values is None:
                self.told.count(kind.name, "kept")
                continue
            pk, version = here.get(row.key, (None, 0))
            if pk is None and kind.natural:
                pk = alike.get(self._natural(kind, values))
                version = 2**40
            fate = self._fate(kind, values, pk, version)
            if fate == "kept" and pk is None:
                # what belongs to something that stays as it is here
                self.told.count(kind.name, "kept")
                continue
            if fate == "new":
                made = kind.model(**{kind.key: row.key}, **values, **self._owner(kind))
                pending.append((row.key, made, row))
                if len(pending) >= AT_ONCE:
                    self._flush(kind, pending)
                continue
            assert pk is not None
            if fate == "later":
                kind.model._default_manager.filter(pk=pk).update(**values)
                self._stamp(kind, [(pk, row)])
            self._note(kind, row, pk, fate, values)
        self._flush(kind, pending)

    def _owner(self, kind: Kind) -> dict[str, Any]:
        return {"owner": self.grower} if kind.owned == "owner" else {}

    def _fate(self, kind: Kind, values: dict[str, Any], pk: int | None, version: int) -> Fate:
        if kind.follows:
            parent = kind.model._meta.get_field(kind.parent)
            of = self.fates[parent.related_model].get(values[f"{kind.parent}_id"], "kept")  # type: ignore[index]
            if of == "kept":
                return self._beside(kind, values) if pk is None else "kept"
            return "new" if pk is None else "later"
        if pk is None:
            return "new"
        return "later" if values.get("version", 0) > version else "kept"

    def _beside(self, kind: Kind, values: dict[str, Any]) -> Fate:
        """Return what becomes of a part of something that stays as it is here."""
        if kind.model is Stage:
            # runs may stand on it; it is none of the crop's any more
            values["removed"] = True
            return "new"
        return "kept"

    def _values(
        self, kind: Kind, row: ReadRow, pending: list[tuple[UUID, models.Model, ReadRow]]
    ) -> dict[str, Any] | None:
        """Return a row's columns with the rows of this account; nothing where one is not kept."""
        values = renumbered(kind, row.values, self.numbers)
        for name, model in kind.references:
            key = values.pop(name)
            if key is None:
                values[f"{name}_id"] = None
                continue
            if model is LightMap and kind.model is Fixture:
                values["light_map_id"] = None
                continue
            if model is kind.model and key not in self.ids[model]:
                self._flush(kind, pending)
            if key not in self.ids[model]:
                return None
            values[f"{name}_id"] = self.ids[model][key]
        if kind.model is Device:
            # only a demo's own play themselves
            values["simulated"] = values["simulated"] and self.grower.is_demo
        return values

    def _alike(self, kind: Kind, rows: Any) -> dict[tuple[Any, ...], int]:
        """Return which rows there are by what else tells them."""
        if not kind.natural:
            return {}
        columns = [f"{n}_id" if self._is_relation(kind, n) else n for n in kind.natural]
        found = rows.values_list("pk", *columns)
        return {tuple(rest): pk for pk, *rest in found if None not in rest}

    def _is_relation(self, kind: Kind, name: str) -> bool:
        return bool(kind.model._meta.get_field(name).is_relation)

    def _natural(self, kind: Kind, values: dict[str, Any]) -> tuple[Any, ...]:
        found = []
        for name in kind.natural:
            if name == "owner":
                found.append(self.grower.pk)
            else:
                found.append(values[f"{name}_id" if self._is_relation(kind, name) else name])
        return tuple(found)

    def _make_way(self, kind: Kind) -> None:
        """Let go of what stands in the place of later states that come."""
        if kind.model is Stage:
            later = [pk for pk, fate in self.fates[Crop].items() if fate == "later"]
            Stage.objects.filter(crop__in=later).update(removed=True)
        if kind.model is RunLamp:
            later = [pk for pk, fate in self.fates[Arrangement].items() if fate == "later"]
            RunLamp.objects.filter(arrangement__in=later).delete()

    def _flush(self, kind: Kind, pending: list[tuple[UUID, models.Model, ReadRow]]) -> None:
        if not pending:
            return
        kind.model._default_manager.bulk_create([made for _, made, _ in pending])
        self._stamp(kind, [(made.pk, row) for _, made, row in pending])
        for _, made, row in pending:
            self._note(kind, row, made.pk, "new", row.values)
        pending.clear()

    def _note(self, kind: Kind, row: ReadRow, pk: int, fate: Fate, values: dict[str, Any]) -> None:
        self.ids[kind.model][row.key] = pk
        self.fates[kind.model][pk] = fate
        if row.number is not None:
            self.numbers[kind.name][row.number] = pk
        if kind.model is Fixture and fate != "kept" and row.values["light_map"] is not None:
            self.maps_of.append((pk, row.values["light_map"]))
        if kind.model is Series and fate == "kept" and row.values["last_at"] is not None:
            last = (row.values["last_at"], row.values["last_value"])
            with connection.cursor() as cursor:
                cursor.execute(NEWEST, [*last, pk, *last])
        self.told.count(kind.name, fate)

    def _stamp(self, kind: Kind, rows: Iterable[tuple[int, ReadRow]]) -> None:
        """Let rows be as old as they are: a new row is stamped as of now."""
        stamped = [
            f
            for f in kind.columns
            if getattr(f, "auto_now", False) or getattr(f, "auto_now_add", False)
        ]
        if not stamped:
            return
        sets = ", ".join(f'"{f.column}" = %s' for f in stamped)
        table = kind.model._meta.db_table
        values = [
            (*(f.get_db_prep_value(row.values[f.name], connection) for f in stamped), pk)
            for pk, row in rows
        ]
        with connection.cursor() as cursor:
            cursor.executemany(STAMP.format(table, sets), values)

    def _points(self, name: str) -> None:
        columns = UNIT_OF[name]
        names = ", ".join(f'"{column}"' for column in ("series_id", *columns))
        places = ", ".join(["%s"] * (len(columns) + 1))
        insert = KEEP.format(TABLE_OF[name], names, places)
        with connection.cursor() as cursor:
            for row in points_in(self.reader, name, set(self.ids[Series])):
                pk = self.ids[Series][row["series"]]
                for some in _in_some(zip(*(row[column] for column in columns)), AT_ONCE):
                    cursor.executemany(insert, [(pk, *each) for each in some])
                    new = max(cursor.rowcount, 0)
                    self.told.count(name, "new", new)
                    self.told.count(name, "kept", len(some) - new)
                if name == "readings" and self.fates[Series][pk] == "kept":
                    # summaries here were made of fewer
                    spans = {at - at % FIVE_MIN_MS for at in row["at"]}
                    cursor.executemany(NOTE_UNSUMMED, [(pk, at) for at in sorted(spans)])


def _in_some(rows: Iterable[Any], count: int) -> Iterator[list[Any]]:
    waiting = iter(rows)
    while some := list(islice(waiting, count)):
        yield some


OF_OTHERS = {model for kind in KINDS for _, model in kind.references} - set(KIND_OF)
assert not OF_OTHERS, "every row that is named has a kind of its own"
