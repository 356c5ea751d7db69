"""Archives: what is written is read back, and what is none of ours is refused before it unpacks."""

import contextlib
import io
import json
import stat
import struct
import zipfile
from uuid import UUID

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.formats import archive
from canopy.formats.archive import FORMAT, PART, ArchiveReader, ArchiveWriter

KEY = UUID("0f0e0d0c-0b0a-4908-8706-050403020100")


def written(kinds, photos=(), tables=()):
    out = io.BytesIO()
    writer = ArchiveWriter(out)
    for kind, rows in kinds.items():
        writer.rows(kind, rows)
        writer.schema(kind, {"title": kind})
    for name, text in tables:
        writer.table(name, text)
    for key, content in photos:
        writer.photo(key, content)
    writer.close("2026-11-27T08:00:00Z", {"currency": "€"})
    return out


def changed(source, drop=(), **files):
    """An archive with files in other files' place, or beside them."""
    out, files = io.BytesIO(), {name.replace("__", "/"): text for name, text in files.items()}
    with zipfile.ZipFile(source) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for info in old.infolist():
            if info.filename not in files and info.filename not in drop:
                new.writestr(info.filename, old.read(info))
        for name, text in files.items():
            new.writestr(name, text)
    return out


def head(**other):
    counts = {"spaces": 1}
    return json.dumps(
        {"format": FORMAT, "version": 1, "made_at": "", "account": {}, "counts": counts} | other
    )


values = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(2**53), 2**53)
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(st.characters(codec="utf-8", exclude_characters="\0"), max_size=20),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(st.text("abc", min_size=1, max_size=3), inner, max_size=3)
    ),
    max_leaves=6,
)
rows = st.lists(st.dictionaries(st.text("xyz", min_size=1, max_size=3), values, max_size=4))


@given(st.dictionaries(st.sampled_from(["spaces", "runs", "entries"]), rows))
def test_what_is_written_is_read_back(kinds):
    reader = ArchiveReader(written(kinds))
    assert reader.contents.counts == {kind: len(found) for kind, found in kinds.items()}
    for kind, found in kinds.items():
        assert [row for _, row in reader.rows(kind)] == found


def test_many_rows_go_on_in_further_files():
    rows = [{"n": k, "text": "x" * 1000} for k in range(5000)]
    out = written({"entries": rows})
    names = [name for name in zipfile.ZipFile(out).namelist() if name.startswith("rows/")]
    assert names == ["rows/entries.json", "rows/entries.0002.json", "rows/entries.0003.json"]
    assert max(i.file_size for i in zipfile.ZipFile(out).infolist()) < 1.01 * PART
    assert [row for _, row in ArchiveReader(out).rows("entries")] == rows


def test_photos_and_tables_lie_beside_and_the_same_rows_are_the_same_bytes():
    tables = [("Log 2026/11 <spring>", "a,b\n"), ("Log 2026/11 <spring>", "c\n"), ("../..", "")]
    one, other = (written({"spaces": []}, [(KEY, b"\xff\xd8 picture")], tables) for _ in range(2))
    assert one.getvalue() == other.getvalue()
    reader = ArchiveReader(one)
    assert reader.photos == {KEY}
    assert reader.photo(KEY) == b"\xff\xd8 picture"
    names = [name for name in zipfile.ZipFile(one).namelist() if name.startswith("tables/")]
    assert names == [
        "tables/Log 2026-11 -spring.csv",
        "tables/Log 2026-11 -spring 2.csv",
        "tables/table.csv",
    ]
    with pytest.raises(CanopyError, match="missing"):
        reader.photo(UUID(int=1))


@given(st.integers(0, 10_000))
def test_one_cut_short_anywhere_is_refused(at):
    whole = written({"spaces": [{"name": f"Tent {k}"} for k in range(40)]}).getvalue()
    cut = whole[: at % len(whole)]
    with pytest.raises(CanopyError, match=r"cut short|damaged|no archive"):
        read_all(io.BytesIO(cut))


@given(st.integers(0, 10_000), st.integers(1, 255))
def test_one_with_a_byte_flipped_is_read_as_it_was_or_refused(at, flip):
    rows = [{"name": f"Tent {k}"} for k in range(40)]
    whole = bytearray(written({"spaces": rows}).getvalue())
    whole[at % len(whole)] ^= flip
    with contextlib.suppress(CanopyError):
        assert read_all(io.BytesIO(bytes(whole))) == rows


def read_all(source):
    return [row for _, row in ArchiveReader(source).rows("spaces")]


GOOD = {"spaces": [{"name": "Tent"}]}


@pytest.mark.parametrize(
    "name",
    ["../outside.json", "/etc/outside", "rows/../../x.json", "rows\\..\\x.json", "C:/x.json"],
)
def test_what_leads_outside_is_refused(name):
    out = io.BytesIO(written(GOOD).getvalue())
    with zipfile.ZipFile(out, "a") as file:
        file.writestr(name, "{}")
    with pytest.raises(CanopyError, match="leads out"):
        ArchiveReader(out)


def test_a_link_is_refused():
    out = io.BytesIO(written(GOOD).getvalue())
    with zipfile.ZipFile(out, "a") as file:
        info = zipfile.ZipInfo("photos/link.jpg")
        info.external_attr = (stat.S_IFLNK | 0o777) << 16
        file.writestr(info, "/etc/passwd")
    with pytest.raises(CanopyError, match="leads out"):
        ArchiveReader(out)


def test_a_file_that_is_there_twice_is_refused():
    out = io.BytesIO(written(GOOD).getvalue())
    with pytest.warns(UserWarning, match="Duplicate"), zipfile.ZipFile(out, "a") as file:
        file.writestr("rows/spaces.json", '{"rows": []}')
    with pytest.raises(CanopyError, match="twice"):
        ArchiveReader(out)


def test_what_unpacks_to_many_times_its_size_is_refused_before_it_does():
    bomb = changed(written(GOOD), **{f"rows__a.{k:04d}.json": " " * 15_000_000 for k in range(10)})
    assert len(bomb.getvalue()) < 200_000
    with pytest.raises(CanopyError, match="times its size"):
        ArchiveReader(bomb)


def test_a_file_that_lies_about_its_size_is_refused():
    out = bytearray(written({"spaces": [{"n": "x" * 50_000}]}).getvalue())
    # the central directory says it is short: bytes 24 to 28 of its entry
    entry = out.index(b"PK\x01\x02")
    out[entry + 24 : entry + 28] = struct.pack("<I", 10)
    with pytest.raises(CanopyError):
        read_all(io.BytesIO(bytes(out)))


def test_files_that_share_their_bytes_are_refused():
    whole = written({"spaces": [], "runs": []}).getvalue()
    found = [i for i in range(len(whole)) if whole[i : i + 4] == b"PK\x01\x02"]
    out = bytearray(whole)
    # the second file's bytes are said to be the first's
    out[found[1] + 42 : found[1] + 46] = struct.pack("<I", 0)
    with pytest.raises(CanopyError):
        read_all(io.BytesIO(bytes(out)))


@pytest.mark.parametrize(
    ("files", "words"),
    [
        ({"archive.json": head(version=2)}, "later release"),
        ({"archive.json": head(version=10**400)}, "later release"),
        ({"archive.json": head(version=True)}, "version from 1"),
        ({"archive.json": head(version="1")}, "version from 1"),
        ({"archive.json": head(format="something/else")}, "no archive"),
        ({"archive.json": head(counts={"spaces": 2})}, "should hold 2"),
        ({"archive.json": head(counts={})}, "does not count"),
        ({"archive.json": head(counts={"spaces": 1, "runs": 1})}, "missing"),
        ({"archive.json": head(counts={"spaces": -1})}, "counts.spaces"),
        ({"archive.json": "[" * 100_000}, "nested too deeply"),
        ({"archive.json": "not json"}, "not JSON"),
        ({"archive.json": b"\xff\xfe"}, "UTF-8"),
        ({"rows__spaces.json": '{"format": "x", "version": 1, "rows": [{}]}'}, "should have"),
        ({"rows__spaces.json": '{"rows": NaN}'}, "NaN"),
        (
            {"rows__spaces.json": f'{{"format": "{FORMAT}/spaces", "version": 1, "rows": 3}}'},
            "should be a list",
        ),
        ({"rows__spaces.0003.json": "{}"}, "missing"),
    ],
)
def test_what_does_not_go_together_is_refused_with_a_sentence(files, words):
    with pytest.raises(CanopyError, match=words):
        read_all(changed(written(GOOD), **files))


def test_what_is_no_archive_at_all_is_refused():
    for content in (b"", b"PK", b"hello" * 100, b"\xff" * 5000):
        with pytest.raises(CanopyError, match="no archive"):
            ArchiveReader(io.BytesIO(content))
    plain = io.BytesIO()
    with zipfile.ZipFile(plain, "w") as file:
        file.writestr("readme.txt", "hello")
    with pytest.raises(CanopyError, match=r"archive\.json is missing"):
        ArchiveReader(plain)


def test_too_many_files_and_too_many_bytes_are_refused(monkeypatch):
    monkeypatch.setattr(archive, "MOST_FILES", 2)
    with pytest.raises(CanopyError, match="holds 3 files"):
        ArchiveReader(written(GOOD))
    monkeypatch.undo()
    monkeypatch.setattr(archive, "MOST_BYTES", 10)
    with pytest.raises(CanopyError, match="unpacks to more"):
        ArchiveReader(written(GOOD))


def test_what_nobody_knows_is_named():
    found = ArchiveReader(changed(written(GOOD), **{"notes.txt": "hi", "archive.json": head(x=1)}))
    assert set(found.contents.ignored) == {"notes.txt", "x"}
