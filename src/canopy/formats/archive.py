"""Account archives (``*.canopy.zip``): everything a grower keeps; docs/formats/archive.md.

``archive.json`` says what it is and how many rows of each kind it holds, ``rows/`` has the rows as
JSON, ``schemas/`` their schemas, ``tables/`` CSV for people, ``photos/`` the photographs. A kind of
many rows goes on in further files, so that none has to be held whole in memory by many.
"""

import json
import re
import stat
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass
from itertools import pairwise
from typing import IO, Any, Final
from uuid import UUID
from zipfile import ZIP_DEFLATED, ZIP_STORED, BadZipFile, ZipFile, ZipInfo

from canopy.errors import CanopyError
from canopy.formats.reader import Fields, load_json

FORMAT: Final = "idle-canopy/archive"
VERSION: Final = 1

MOST_FILES: Final = 20_000
MOST_BYTES: Final = 4 * 1024**3
"""Of all files together, unpacked."""

MOST_PART: Final = 16 * 1024**2
"""Of one file of rows, unpacked; written they are much shorter, but for one row that is long."""

PART: Final = 2 * 1024**2
MOST_PHOTO: Final = 4 * 1024**2
MOST_RATIO: Final = 50
"""Unpacked over packed, of all files together."""

FREE: Final = 128 * 1024**2
"""So many bytes may unpack besides, from whatever they are: a meter that shows nothing is dull."""

ROWS = re.compile(r"rows/(?P<kind>[a-z_]{1,40})(?:\.(?P<part>\d{4}))?\.json")
PHOTO = re.compile(r"photos/(?P<key>[0-9a-f-]{36})\.jpg")
BESIDE = re.compile(r"(?:schemas|tables)/[^/\\]{1,200}")
STAMP = (1980, 1, 1, 0, 0, 0)
"""Two archives of the same rows are the same bytes."""

DAMAGED = "This archive is damaged or was cut short: take it out again, or try another copy."


@dataclass(frozen=True)
class Contents:
    """What an archive says of itself: when it was made, of whom, and how many rows of each kind.

    ``account`` are the grower's own settings, ``ignored`` names what nobody knows.
    """

    made_at: str
    account: dict[str, Any]
    counts: dict[str, int]
    ignored: tuple[str, ...]


class ArchiveWriter:
    """An archive being written to a file, kind by kind.

    Parameters
    ----------
    target : file
        Open for writing bytes.
    """

    def __init__(self, target: IO[bytes]) -> None:
        self._zip = ZipFile(target, "w", ZIP_DEFLATED, compresslevel=6)
        self._counts: dict[str, int] = {}

    def _write(self, name: str, content: bytes, packed: bool = True) -> None:
        info = ZipInfo(name, STAMP)
        info.compress_type = ZIP_DEFLATED if packed else ZIP_STORED
        info.external_attr = (stat.S_IFREG | 0o600) << 16
        self._zip.writestr(info, content)

    def rows(self, kind: str, rows: Iterable[Mapping[str, Any]]) -> int:
        """Write all rows of a kind; return how many there were."""
        head = json.dumps({"format": f"{FORMAT}/{kind}", "version": VERSION})[:-1] + ', "rows": [\n'
        held: list[str] = []
        size, count, part = 0, 0, 0

        def out() -> None:
            nonlocal held, size, part
            part += 1
            name = f"rows/{kind}.json" if part == 1 else f"rows/{kind}.{part:04d}.json"
            self._write(name, (head + ",\n".join(held) + "\n]}\n").encode())
            held, size = [], 0

        for row in rows:
            text = json.dumps(row, ensure_ascii=False, allow_nan=False, separators=(",", ":"))
            if held and size + len(text) > PART:
                out()
            held.append(text)
            size += len(text)
            count += 1
        if held or not part:
            out()
        self._counts[kind] = count
        return count

    def schema(self, kind: str, schema: Mapping[str, Any]) -> None:
        """Write the JSON Schema of a kind of row."""
        text = json.dumps(schema, ensure_ascii=False, indent=1) + "\n"
        self._write(f"schemas/{kind}.schema.json", text.encode())

    def table(self, name: str, text: str) -> None:
        """Write a table for people; its name is made one any system can keep."""
        safe = re.sub(r"[^\w .()-]+", "-", name).strip(" .-")[:120] or "table"
        known = set(self._zip.namelist())
        found, number = f"tables/{safe}.csv", 2
        while found in known:
            found, number = f"tables/{safe} {number}.csv", number + 1
        self._write(found, text.encode())

    def photo(self, key: UUID, content: bytes) -> None:
        """Write a photograph: it is packed already."""
        self._write(f"photos/{key}.jpg", content, packed=False)

    def close(self, made_at: str, account: Mapping[str, Any]) -> None:
        """Write what the archive is, and end it."""
        head = {
            "format": FORMAT,
            "version": VERSION,
            "made_at": made_at,
            "account": dict(account),
            "counts": self._counts,
        }
        self._write(
            "archive.json", (json.dumps(head, ensure_ascii=False, indent=1) + "\n").encode()
        )
        self._zip.close()


class ArchiveReader:
    """An archive as it was sent in: looked over before anything of it is unpacked.

    Parameters
    ----------
    source : file
        Open for reading bytes, and one that can be sought in.

    Raises
    ------
    CanopyError
        When it is no archive, is damaged, holds what none of ours does, or unpacks to too much.
    """

    def __init__(self, source: IO[bytes]) -> None:
        try:
            self._zip = ZipFile(source)
            infos = self._zip.infolist()
        except (BadZipFile, ValueError, NotImplementedError, OSError, EOFError) as error:
            raise CanopyError(
                "This is no archive, or it was cut short: choose a file that ends in .canopy.zip.",
                "archive",
            ) from error
        ignored = _looked_over(infos)
        self._infos = {info.filename: info for info in infos}
        self.contents = self._contents(ignored)
        self._parts = self._all_parts()

    def _read(self, name: str, most: int) -> bytes:
        info = self._infos[name]
        if info.file_size > most:
            mib = most // 1024**2
            raise CanopyError(f"{name} unpacks to more than {mib} MB; it is none of ours.", name)
        try:
            with self._zip.open(info) as file:
                content = file.read(most + 1)
        except (BadZipFile, EOFError, OSError, NotImplementedError, ValueError) as error:
            raise CanopyError(DAMAGED, name) from error
        except Exception as error:  # zlib's own, which it does not export by one name
            if type(error).__module__ != "zlib":
                raise
            raise CanopyError(DAMAGED, name) from error
        if len(content) > most:
            raise CanopyError(DAMAGED, name)
        return content

    def _json(self, name: str) -> Any:
        try:
            text = self._read(name, MOST_PART).decode()
        except UnicodeDecodeError as error:
            raise CanopyError(f"{name} is no UTF-8; it is none of ours.", name) from error
        return load_json(text, name)

    def _contents(self, ignored: list[str]) -> Contents:
        if "archive.json" not in self._infos:
            raise CanopyError(
                "This zip file is no archive of an account: archive.json is missing.", "archive"
            )
        top = Fields(self._json("archive.json"), "", ignored)
        if top.raw("format", None) != FORMAT:
            raise CanopyError(f'This is no archive: its format should be "{FORMAT}".', "format")
        version = top.raw("version", None)
        if isinstance(version, int) and not isinstance(version, bool) and version > VERSION:
            raise CanopyError(
                f"This archive was made by a later release; this one reads archives up to version "
                f"{VERSION}. Update, then bring it in.",
                "version",
            )
        if version != VERSION or isinstance(version, bool):
            raise CanopyError(f"Archives have a version from 1 to {VERSION}.", "version")
        counts = top.object("counts")
        found = Contents(
            made_at=str(top.raw("made_at", ""))[:40],
            account=dict(top.object("account").value),
            counts={kind: counts.whole(kind, 0, 10**8) for kind in counts.value},
            ignored=(),
        )
        top.done()
        return Contents(**{**vars(found), "ignored": tuple(ignored)})

    def _all_parts(self) -> dict[str, list[str]]:
        parts: dict[str, list[tuple[int, str]]] = {}
        for name in self._infos:
            match = ROWS.fullmatch(name)
            if match:
                number = int(match["part"] or 1)
                parts.setdefault(match["kind"], []).append((number, name))
        for kind, found in parts.items():
            found.sort()
            if [number for number, _ in found] != list(range(1, len(found) + 1)):
                raise CanopyError(f"Files of {kind} are missing: {DAMAGED}", kind)
            if kind not in self.contents.counts:
                raise CanopyError(f"archive.json does not count the {kind} there are.", kind)
        for kind, count in self.contents.counts.items():
            if count and kind not in parts:
                raise CanopyError(f"The file of the {count} {kind} is missing: {DAMAGED}", kind)
        return {kind: [name for _, name in found] for kind, found in parts.items()}

    @property
    def kinds(self) -> tuple[str, ...]:
        """The kinds of rows it holds."""
        return tuple(self._parts)

    def rows(self, kind: str) -> Iterator[tuple[str, Any]]:
        """Yield each row of a kind with the name of its place, one file in memory at a time.

        Raises
        ------
        CanopyError
            When a file cannot be read, or there are not as many as were counted.
        """
        count = 0
        for name in self._parts.get(kind, ()):
            ignored: list[str] = []
            top = Fields(self._json(name), name, ignored)
            if top.raw("format", None) != f"{FORMAT}/{kind}":
                raise CanopyError(f'{name} should have the format "{FORMAT}/{kind}".', name)
            if top.raw("version", None) != VERSION:
                raise CanopyError(f"{name} is of another version than the archive.", name)
            rows = top.raw("rows")
            if not isinstance(rows, list):
                raise CanopyError(f"{name}.rows should be a list.", name)
            for i, row in enumerate(rows):
                yield f"{name} row {i + 1}", row
            count += len(rows)
        if count != self.contents.counts.get(kind, 0):
            said = self.contents.counts.get(kind, 0)
            raise CanopyError(f"It should hold {said} {kind} and holds {count}: {DAMAGED}", kind)

    @property
    def photos(self) -> set[UUID]:
        """The keys of the photographs there are."""
        found = set()
        for name in self._infos:
            match = PHOTO.fullmatch(name)
            if match:
                with suppress(ValueError):
                    found.add(UUID(match["key"]))
        return found

    def photo(self, key: UUID) -> bytes:
        """Return a photograph's file.

        Raises
        ------
        CanopyError
            When it is missing, damaged or too large.
        """
        name = f"photos/{key}.jpg"
        if name not in self._infos:
            raise CanopyError(f"{name} is missing: {DAMAGED}", name)
        return self._read(name, MOST_PHOTO)


def _looked_over(infos: list[ZipInfo]) -> list[str]:
    """Return the names of files that nobody knows; refuse what cannot be an archive of ours."""
    if len(infos) > MOST_FILES:
        raise CanopyError(f"It holds {len(infos)} files; an archive has {MOST_FILES} at most.")
    doubled = [name for name, count in Counter(i.filename for i in infos).items() if count > 1]
    if doubled:
        raise CanopyError(f"{_shown(doubled[0])} is in it twice; it is none of ours.", "archive")
    whole, ignored = 0, []
    for info in infos:
        name = info.filename
        if _leads_outside(name) or stat.S_ISLNK(info.external_attr >> 16):
            raise CanopyError(
                f"{_shown(name)} leads out of the archive; it is none of ours.", "archive"
            )
        if info.flag_bits & 1 or info.compress_type not in (ZIP_STORED, ZIP_DEFLATED):
            raise CanopyError(
                f"{_shown(name)} is locked or packed in a way none of ours is.", "archive"
            )
        whole += info.file_size
        known = name == "archive.json" or ROWS.fullmatch(name) or PHOTO.fullmatch(name)
        if not known and not BESIDE.fullmatch(name) and not info.is_dir():
            ignored.append(_shown(name))
    packed = max(sum(info.compress_size for info in infos), 1)
    if whole > FREE + MOST_RATIO * packed:
        raise CanopyError(
            f"It unpacks to {whole / packed:.0f} times its size; it is none of ours.", "archive"
        )
    if whole > MOST_BYTES:
        gib = MOST_BYTES // 1024**3
        raise CanopyError(f"It unpacks to more than {gib} GB; no account is as large.", "archive")
    spans = sorted((i.header_offset, i.header_offset + i.compress_size) for i in infos)
    if any(begins < ends for (_, ends), (begins, _) in pairwise(spans)):
        raise CanopyError("Files in it overlap; it is none of ours.", "archive")
    return ignored


def _leads_outside(name: str) -> bool:
    parts = name.split("/")
    return name.startswith("/") or "\\" in name or ":" in name or "\0" in name or ".." in parts


def _shown(name: str) -> str:
    """Return a file's name as it can be shown."""
    return "".join(c if c.isprintable() else "?" for c in name)[:80]
