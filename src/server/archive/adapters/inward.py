"""Rows of an archive, read and held against each other before anything of them is kept."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any
from uuid import UUID

from django.db import models

from canopy.errors import CanopyError
from canopy.formats.archive import ArchiveReader as ArchiveReader
from canopy.formats.reader import Fields
from server.accounts.schemas import Preferences
from server.archive.adapters.columns import read
from server.archive.adapters.kinds import KIND_OF, KINDS, NUMBERED, Kind, by
from server.archive.adapters.outward import ACCOUNT, POINT_COLUMNS, POINTS, SUM_COLUMNS, SUMS
from server.devices.models import Series

Row = dict[str, Any]

POINT_KINDS = ("readings", *SUMS)
UNIT_OF = {"readings": POINT_COLUMNS, **dict.fromkeys(SUMS, SUM_COLUMNS)}
MOST_MS = 7_300_000_000_000
"""Some day in the year 2201."""

MOST_POINTS = 20_000_000
STRANGE_NUMBER = 2**52
"""A document's number of a row that nobody knows any more becomes one above this."""

NUMBERED_DUE = re.compile(r"(stage|harvest):(\d{1,18})")


@dataclass(frozen=True)
class ReadRow:
    """A row as it was read: what it is known by, its number in documents, and its columns.

    Columns of other rows hold what those are known by.
    """

    key: UUID
    number: int | None
    values: Row


@dataclass
class Looked:
    """What an archive holds, all of it read once: nothing of it is kept yet.

    ``photos`` tells of which the file is there.
    """

    account: Row
    counts: dict[str, int] = field(default_factory=dict)
    photos: dict[UUID, bool] = field(default_factory=dict)
    ignored: list[str] = field(default_factory=list)


def read_row(kind: Kind, value: Any, where: str, ignored: list[str]) -> ReadRow:
    """Return one row of a kind.

    Raises
    ------
    CanopyError
        With where it stands, and what is wrong with it.
    """
    try:
        fields = Fields(value, "", [])
        key = read(kind.model._meta.get_field(kind.key), fields.raw(kind.key), kind.key)  # type: ignore[arg-type]
        number = fields.whole("number", 0, 2**53) if kind.name in NUMBERED else None
        row = {f.name: _column(fields, f) for f in kind.columns}
        fields.done()
        stored = kind.check(row | {kind.key: key})
        missing = [name for name in stored if name not in row]
        if missing:
            raise CanopyError(f"{missing[0]} is no column of it.", missing[0])
    except CanopyError as error:
        raise _at(where, error) from error
    for name in fields.ignored:
        if name not in ignored and len(ignored) < MOST_IGNORED:
            ignored.append(f"{kind.name}: {name}")
    return ReadRow(key, number, row | stored)


MOST_IGNORED = 20


def _column(fields: Fields, column: "models.Field[Any, Any]") -> Any:
    """Return a column; one that archives of its day did not have is as in rows of that day."""
    if column.name not in fields and (column.has_default() or column.null):
        return column.get_default()
    return read(column, fields.raw(column.name), column.name)


def _at(where: str, error: CanopyError) -> CanopyError:
    figures = error.said.figures
    sentence = str(figures["text"]) if error.said.code == "plain" else str(error)
    return CanopyError(f"{where}: {sentence}", error.field)


def rows_in(reader: ArchiveReader, kind: Kind, ignored: list[str]) -> Iterator[ReadRow]:
    """Yield an archive's rows of a kind."""
    for where, value in reader.rows(kind.name):
        yield read_row(kind, value, where, ignored)


def looked(reader: ArchiveReader) -> Looked:
    """Return what an archive holds, every row of it read and held against those it names.

    Raises
    ------
    CanopyError
        Where a row cannot be, is there twice, or names one that is not there.
    """
    contents = reader.contents
    found = Looked(account=_account(contents.account), ignored=list(contents.ignored))
    known_names = {kind.name for kind in KINDS} | set(POINT_KINDS)
    found.ignored += [f"rows/{name}.json" for name in reader.kinds if name not in known_names]
    known: dict[type[models.Model], set[UUID]] = {}
    sides: dict[tuple[type[models.Model], str], dict[UUID, Any]] = {}
    asked = {(kind.model, name) for kind in KINDS for name, _, _ in kind.agree}
    wanted = {
        (KIND_OF[dict(KIND_OF[model].references)[name]].model, their)
        for model, name in asked
        for kind_name, their, _ in KIND_OF[model].agree
        if kind_name == name
    }
    # what a later kind holds is named before it is read: a lamp's map
    late: list[tuple[str, UUID, type[models.Model]]] = []
    for kind in KINDS:
        here = known.setdefault(kind.model, set())
        numbers: set[int] = set()
        within: dict[UUID, int] = {}
        for i, row in enumerate(rows_in(reader, kind, found.ignored), 1):
            where = f"{kind.name} {i}"
            if row.key in here:
                raise CanopyError(f"{where} is there twice: {row.key}.", kind.name)
            if row.number is not None:
                if row.number in numbers:
                    raise CanopyError(f"{where} has a number another one has.", kind.name)
                numbers.add(row.number)
            for name, model in kind.references:
                other = row.values[name]
                if other is None:
                    continue
                if model in known and other not in known[model]:
                    raise CanopyError(_strange(where, name, other), name)
                if model not in known:
                    late.append((where, other, model))
            for name, their, own in kind.agree:
                other = row.values[name]
                side = sides.get((dict(kind.references)[name], their), {})
                if other is not None and side.get(other) != row.values[own]:
                    raise CanopyError(f"{where}: {name} and {own} are not of one {own}.", name)
            if kind.parent:
                parent = row.values[kind.parent]
                within[parent] = within.get(parent, 0) + 1
                if within[parent] > kind.most:
                    raise CanopyError(
                        f"One {kind.parent} has more than {kind.most} {kind.name}.", kind.name
                    )
            here.add(row.key)
            for model, their in wanted:
                if model is kind.model:
                    sides.setdefault((model, their), {})[row.key] = row.values[their]
        if not kind.parent and len(here) > kind.most:
            raise CanopyError(f"It holds more than {kind.most} {kind.name}.", kind.name)
        found.counts[kind.name] = len(here)
    for where, other, model in late:
        if other not in known[model]:
            raise CanopyError(_strange(where, KIND_OF[model].name, other), "archive")
    for name in POINT_KINDS:
        found.counts[name] = sum(len(row["at"]) for row in points_in(reader, name, known[Series]))
        if found.counts[name] > MOST_POINTS:
            raise CanopyError(f"It holds more than {MOST_POINTS} {name}.", name)
    there = reader.photos
    photo_kind = next(kind for kind in KINDS if kind.name == "photos")
    found.photos = {key: key in there for key in known[photo_kind.model]}
    return found


def _strange(where: str, name: str, other: UUID) -> str:
    return f"{where} names a row that is not in the archive ({name} {other})."


def _account(values: Row) -> Row:
    own = {name: values[name] for name in ACCOUNT if name in values}
    return {name: value for name, value in by(Preferences, own, "account").items() if value}


def points_in(reader: ArchiveReader, name: str, series: set[UUID]) -> Iterator[Row]:
    """Yield rows of points, each of one series, its times in order.

    Raises
    ------
    CanopyError
        Where one cannot be.
    """
    columns = UNIT_OF[name]
    for where, value in reader.rows(name):
        ignored: list[str] = []
        fields = Fields(value, where, ignored)
        key = read(Series._meta.get_field("uuid"), fields.raw("series"), f"{where}: series")
        if key not in series:
            raise CanopyError(_strange(where, "series", key), "series")
        found: Row = {"series": key}
        for column in columns:
            low, high = (0, MOST_MS) if column == "at" else (-1e12, 1e12)
            found[column] = fields.numbers(column, low, high, POINTS)
        fields.done()
        found["at"] = [int(at) for at in found["at"]]
        if len({len(found[column]) for column in columns}) > 1:
            raise CanopyError(f"{where}: its lists are of different lengths.", "at")
        if any(b <= a for a, b in pairwise(found["at"])):
            raise CanopyError(f"{where}: its times are out of order.", "at")
        if "n" in found:
            if any(n < 1 or n != int(n) for n in found["n"]):
                raise CanopyError(f"{where}: n should be whole numbers from 1.", "n")
            found["n"] = [int(n) for n in found["n"]]
        yield found


def renumbered(kind: Kind, values: Row, numbers: dict[str, dict[int, int]]) -> Row:
    """Return a row with what its documents name by number as it is numbered here.

    Parameters
    ----------
    kind : Kind
    values : dict
    numbers : dict
        By kind the number here of each number there.
    """
    found = dict(values)
    if kind.name == "plans" and found["document"] is not None:
        found["document"] = _run_document(found["document"], numbers)
    elif kind.name == "fits":
        document = dict(found["document"])
        document["whose"] = [
            {
                "fixture": _number(numbers, "fixtures", each["fixture"]),
                "piece": _number(numbers, "lamps", each.get("piece")),
            }
            for each in document["whose"]
        ]
        found["document"] = document
    elif kind.name == "walk_entries" and found["asked"] is not None:
        sensor = found["asked"]["sensor_id"]
        found["asked"] = found["asked"] | {"sensor_id": numbers["sensors"].get(sensor)}
    elif kind.name == "entries":
        own = dict(found["values"])
        if "photo" in own:
            here = numbers["photos"].get(own["photo"])
            if here is None:
                raise CanopyError("An entry shows a photo that is not in the archive.", "photo")
            own["photo"] = here
        match = NUMBERED_DUE.fullmatch(str(own.get("due", "")))
        if match:
            number = numbers["run_stages"].get(int(match[2]), 0)
            own["due"] = f"{match[1]}:{number}"
        found["values"] = own
    return found


def _number(numbers: dict[str, dict[int, int]], kind: str, there: int | None) -> int | None:
    if there is None:
        return None
    here = numbers[kind].get(there)
    return STRANGE_NUMBER + there % STRANGE_NUMBER if here is None else here


def _run_document(document: Row, numbers: dict[str, dict[int, int]]) -> Row:
    crop = document["crop"]
    lamps = []
    for lamp in document["lamps"]:
        piece = lamp.get("piece")
        if piece is not None:
            piece = piece | {"id": _number(numbers, "lamps", piece["id"])}
        fixture = _number(numbers, "fixtures", lamp["fixture"])
        lamps.append(lamp | {"fixture": fixture, "piece": piece})
    return document | {
        "crop": crop
        | {
            "stages": [
                stage | {"id": _number(numbers, "stages", stage["id"])} for stage in crop["stages"]
            ]
        },
        "fixtures": [
            each | {"id": _number(numbers, "fixtures", each["id"])} for each in document["fixtures"]
        ],
        "main": _number(numbers, "fixtures", document["main"]),
        "lamps": lamps,
        "above": [
            each | {"stage": _number(numbers, "stages", each["stage"])}
            for each in document.get("above", [])
        ],
    }
