"""Files made to break or to freeze what reads them: refused in a sentence, and in time."""

import io
import json
import time
import zipfile
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from canopy.errors import CanopyError
from canopy.formats.fixturefile import read_fixture_file, write_fixture_file
from canopy.formats.lm63 import read_lm63
from canopy.formats.reader import check_texts, load_json
from canopy.formats.shelftable import (
    MOST_COLUMNS,
    read_shelf_csv,
    read_shelf_xlsx,
    write_shelf_csv,
    write_shelf_xlsx,
)
from canopy.formats.spd import read_spectrum
from canopy.light.spectrum import light_figures
from canopy.tables import table

EXAMPLE = json.loads((Path(__file__).parents[3] / "docs/formats/example.fixture.json").read_text())


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"details": {"ip": "\ud800"}}, "details.ip"),
        ({"name": "A\0B"}, "name"),
        ({"note": {"\udfff": 1}}, "note"),
        ({"watts": None}, "watts"),
        ({"frame_x_cm": None}, "frame_x_cm"),
        ({"dial_table": None}, "dial_table"),
        ({"layout": None}, "layout"),
        ({"spectrum": {"wavelength_nm": [400, 500], "power": [1e300, 1]}}, "spectrum.power[0]"),
        ({"spectrum": {"wavelength_nm": [400, 500], "power": [1e-300, 0]}}, "spectrum"),
        # light from a hundred metres below the lamp
        ({"layout": {"emitters": [[0, 0, -1e4, 1]]}}, "closest_cm"),
        ({"layout": {"emitters": [[0, 0, 90, 1]]}}, "body_cm"),
        (
            {
                "dial_kind": "none",
                "dial_table": [{"position_pct": 100, "watts_fraction": 1, "light_fraction": 0}],
            },
            "dial_table.0.light_fraction",
        ),
    ],
)
def test_fixture_files_that_cannot_be_kept(change, field):
    with pytest.raises(CanopyError) as refusal:
        read_fixture_file(json.dumps(EXAMPLE | change))
    assert refusal.value.field == field
    assert refusal.value.sentence.endswith(".")


@given(
    st.recursive(
        st.none() | st.integers() | st.text(),
        lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner),
    )
)
def test_what_passes_can_be_written_as_utf8(value):
    try:
        check_texts(value, "It")
    except CanopyError:
        written = json.dumps(value, ensure_ascii=False)
        assert "\\u0000" in written or written.encode("utf-8", "replace") != written.encode(
            "utf-8", "surrogatepass"
        )
        return
    assert "\\u0000" not in json.dumps(value, ensure_ascii=False).encode().decode()


def test_json_that_overflows():
    for text in ("[" * 100_000, '{"a": 1e999}', "9" * 5000):
        try:
            found = load_json(text, "It")
        except CanopyError:
            continue
        with pytest.raises(CanopyError):
            read_fixture_file(json.dumps(EXAMPLE | {"watts": found["a"]}))


@pytest.mark.parametrize(
    "text",
    [
        "400,1e300\n500,1\n",
        "400,1e-300\n500,0\n",
        "400,nan\n500,1\n",
        "400,1\n705,1e12\n",
        "100,1e12\n399,1e12\n400,1e-9\n",
    ],
)
def test_spectra_are_read_or_refused_never_half(text):
    try:
        spectrum = read_spectrum(text)
    except CanopyError:
        return
    shape = {"wavelength_nm": list(spectrum.wavelength_nm), "power": list(spectrum.power)}
    again = read_fixture_file(write_fixture_file(EXAMPLE | {"spectrum": shape}))
    assert again.record["spectrum"] == shape
    json.dumps(vars(light_figures(spectrum)), allow_nan=False)


def test_a_million_columns_are_counted_not_compared():
    start = time.process_time()
    with pytest.raises(CanopyError, match=f"columns; {MOST_COLUMNS} at most|too many cells"):
        read_shelf_csv("name,ppf_umol_s," + ",".join(f"c{i}" for i in range(300_000)))
    with pytest.raises(CanopyError, match="columns"):
        read_shelf_csv("name,ppf_umol_s" + ",x" * 300)
    # counted in one pass it takes a tenth of a second; name by name it took minutes
    assert time.process_time() - start < 20


def with_part(part, find, put):
    """A workbook with something put before a place in one of its parts."""
    book, plain, out = Workbook(), io.BytesIO(), io.BytesIO()
    book.active.append(["name", "ppf_umol_s", "watts"])
    book.save(plain)
    with (
        zipfile.ZipFile(plain) as old,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new,
    ):
        for item in old.infolist():
            data = old.read(item.filename)
            if item.filename == part:
                assert find in data
                data = data.replace(find, put + find, 1)
            new.writestr(item.filename, data)
    return out.getvalue()


@pytest.mark.parametrize(
    ("part", "find", "put"),
    [
        ("xl/styles.xml", b"</cellXfs>", b"<xf/>" * 80_000),
        ("xl/worksheets/sheet1.xml", b"</row>", b"<c/>" * 250_000),
        ("xl/worksheets/sheet1.xml", b"<sheetData", b"<x/>" * 90_000),
        ("xl/worksheets/sheet1.xml", b"</worksheet>", b" " * 9_000_000),
        ("xl/workbook.xml", b"</sheets>", b'<sheet name="a" sheetId="1"/>' * 300),
        ("xl/_rels/workbook.xml.rels", b"</Relationships>", b"<Relationship/>" * 20_000),
    ],
)
def test_workbooks_are_weighed_before_they_are_opened(part, find, put, monkeypatch):
    def opened(*_, **__):
        raise AssertionError("it was opened")

    content = with_part(part, find, put)
    monkeypatch.setattr("canopy.formats.workbook.load_workbook", opened)
    with pytest.raises(CanopyError, match=f"part {part} is too large"):
        read_shelf_xlsx(content)


def test_many_small_parts_are_too_many():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as many:
        for i in range(70):
            many.writestr(f"xl/p{i}.xml", "<a/>")
    with pytest.raises(CanopyError, match="too many parts"):
        read_shelf_xlsx(out.getvalue())


def test_the_largest_shelf_still_goes_out_and_comes_back():
    rows = table("starter_fixtures")["rows"]
    shelf = [rows[i % len(rows)] | {"name": f"Lamp {i}"} for i in range(500)]
    read = read_shelf_xlsx(write_shelf_xlsx(shelf))
    assert ([r["name"] for r in read.records], read.troubles) == ([r["name"] for r in shelf], ())
    assert read_shelf_csv(write_shelf_csv(shelf)).records == read.records


def test_a_light_file_in_one_line_is_read_in_step_with_its_length():
    def seconds(planes):
        sizes = f"1 -1 1 181 {planes} 1 2 0 0 0 1 1 10"
        angles = " ".join(str(i / 2) for i in range(181))
        horizontal = " ".join(str(i * 360 / (planes - 1)) for i in range(planes))
        # all numbers of the file in one line, as some programs write them
        table = f"{sizes} {angles} {horizontal} " + "100 " * (181 * planes)
        start = time.process_time()
        read_lm63(f"IESNA:LM-63-2002\nTILT=NONE\n{table}")
        return time.process_time() - start

    assert seconds(360) < 4 * seconds(180) + 0.1


def test_a_light_file_too_large_to_keep():
    with pytest.raises(CanopyError, match="intensities"):
        read_lm63("IESNA:LM-63-2002\nTILT=NONE\n1 -1 1 1441 1441 1 2 0 0 0\n1 1 10\n" + "1 " * 100)
