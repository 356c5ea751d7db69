"""Fixture files and shelf tables: taken back unchanged, every complaint at its place."""

import csv
import io
import json
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.fixture.record import DETAIL_LIMITS, FIGURES, KINDS, ORIGINS
from canopy.formats.fixturefile import read_fixture_file, write_fixture_file
from canopy.formats.shelftable import (
    COLUMNS,
    read_shelf_csv,
    read_shelf_xlsx,
    write_shelf_csv,
    write_shelf_xlsx,
)
from canopy.tables import table
from canopy.words import worded

FORMATS = Path(__file__).parents[3] / "docs" / "formats"
EXAMPLE = (FORMATS / "example.fixture.json").read_text()
SCHEMA = json.loads((FORMATS / "fixture.schema.json").read_text())
STARTERS = table("starter_fixtures")["rows"]


def example(**changes):
    return json.dumps(json.loads(EXAMPLE) | changes)


def test_the_example_comes_back_unchanged_and_fits_its_schema():
    read = read_fixture_file(EXAMPLE)
    assert read.ignored == ()
    written = write_fixture_file(read.record, read.light_file)
    assert read_fixture_file(written) == read
    for text in (EXAMPLE, written):
        jsonschema.validate(json.loads(text), SCHEMA)


def test_the_schema_has_the_readers_fields():
    figures = set(SCHEMA["properties"])
    assert set(FIGURES) <= figures
    assert set(SCHEMA["properties"]["kind"]["enum"]) == set(KINDS)
    assert set(DETAIL_LIMITS) <= set(SCHEMA["properties"]["details"]["properties"])
    assert set(SCHEMA["properties"]["origins"]["properties"]) == set(ORIGINS)


@pytest.mark.parametrize("starter", STARTERS, ids=lambda row: row["name"])
def test_every_starter_lamp_goes_through_all_three(starter):
    record = read_fixture_file(write_fixture_file(starter)).record
    assert record["name"] == starter["name"]
    for read, write in (
        (read_shelf_csv, write_shelf_csv),
        (read_shelf_xlsx, write_shelf_xlsx),
    ):
        back = read(write([record]))
        assert back.troubles == ()
        assert back.ignored == ()
        for name, value in record.items():
            if name == "dial_table":
                for row, wanted in zip(back.records[0][name], value, strict=True):
                    assert row == pytest.approx(wanted)
            elif value not in ("", {}):
                assert back.records[0][name] == value, name


def test_what_nobody_knows_is_named():
    read = read_fixture_file(example(colour_of_the_cord="red"))
    assert read.ignored == ("colour_of_the_cord",)


LIGHT_FILE = {
    "name": "x",
    "ppf_umol_s": 100,
    "width_cm": 1,
    "length_cm": 1,
    "vertical_deg": [0, 90],
    "horizontal_deg": [0],
    "values": [[1, 0]],
}


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"format": "idle-canopy/scene"}, "format"),
        ({"version": 2}, "version"),
        ({"name": " "}, "name"),
        ({"watts": 0}, "watts"),
        ({"watts": "many"}, "watts"),
        ({"ppf_umol_s": True}, "ppf_umol_s"),
        ({"kind": "candle"}, "kind"),
        ({"layout": {"ring_cm": 0}}, "layout.ring_cm"),
        ({"dial_table": []}, "dial_table"),
        ({"details": {"leafy_x_cm": 120}}, "details.leafy_x_cm"),
        ({"details": {"cooling": "magic"}}, "details.cooling"),
        ({"origins": {"watts": "guessed"}}, "origins.watts"),
        ({"spectrum": {}}, "spectrum"),
        ({"spectrum": {"wavelength_nm": [400, 500], "power": [1]}}, "spectrum"),
        ({"maker_low_cm": 90}, "maker_low_cm"),
        ({"frame_x_cm": 50}, "frame_x_cm"),
        ({"light_file": LIGHT_FILE | {"notes": 5}}, "light_file.notes"),
        ({"light_file": LIGHT_FILE | {"values": [[1]]}}, "light_file.values[0]"),
        ({"spectrum": {"lamp": "candle"}}, "spectrum.lamp"),
        ({"spectrum": {"channels": [{"share": 1, "cct_k": 500}]}}, "spectrum.channels.0.cct_k"),
    ],
)
def test_a_fixture_file_says_which_field_is_wrong(changes, field):
    with pytest.raises(CanopyError) as refused:
        read_fixture_file(example(**changes))
    assert refused.value.field == field
    assert refused.value.sentence.endswith(".")


GOOD = (
    "name,kind,watts,ppf_umol_s,frame_x_cm,frame_y_cm,body_cm,weight_kg,closest_cm,"
    "board_x_cm,board_y_cm\n"
)
LINE = "Board,board,100,250,30,25,6,2,15,26,22\n"


@pytest.mark.parametrize(
    ("line", "row", "column"),
    [
        (LINE.replace("100", "many"), 3, "watts"),
        (LINE.replace("100", ""), 3, "watts"),
        (LINE.replace("250", "-4"), 3, "ppf_umol_s"),
        (LINE.replace("Board,", ","), 3, "name"),
        (LINE.replace("board,", "candle,"), 3, "kind"),
        (LINE.replace("26,22", ","), 3, "bars"),
        (LINE.replace("26,22", "26,"), 3, "board_y_cm"),
        # what gives light is larger than the frame
        (LINE.replace("26,22", "26,40"), 3, "frame_y_cm"),
    ],
)
def test_bad_rows_are_told_by_row_and_column_and_good_ones_are_there(line, row, column):
    read = read_shelf_csv(GOOD + LINE + line)
    assert [record["name"] for record in read.records] == ["Board"]
    assert [(t.row, t.column) for t in read.troubles] == [(row, column)]
    assert worded(read.troubles[0].said).endswith(".")


def test_dressed_as_a_spreadsheet_writes_it():
    semicolons = (GOOD + LINE).replace(",", ";").replace("250", "250,5")
    assert read_shelf_csv("\ufeff" + semicolons).records[0]["ppf_umol_s"] == 250.5
    dialled = GOOD.replace("\n", ",dial_kind,dial_table\n") + LINE.replace(
        "\n", ",stepped,25:21:24;100:100:100\n"
    )
    rows = read_shelf_csv(dialled).records[0]["dial_table"]
    assert rows[0] == pytest.approx(
        {"position_pct": 25, "watts_fraction": 0.21, "light_fraction": 0.24}
    )


def tabled(ppfs, weights=("4",), delimiter=","):
    """Return a shelf of boards with these PPF and weights, as they are written."""
    lines = [GOOD.strip().split(",")]
    for i, ppf in enumerate(ppfs):
        cells = dict(zip(lines[0], LINE.strip().split(","), strict=True))
        cells |= {"name": f"Board {i}", "ppf_umol_s": ppf, "weight_kg": weights[i % len(weights)]}
        lines.append(list(cells.values()))
    out = io.StringIO()
    csv.writer(out, delimiter=delimiter).writerows(lines)
    return read_shelf_csv(out.getvalue())


@pytest.mark.parametrize(
    ("ppfs", "weights", "delimiter", "expected"),
    [
        # commas part the cells: a point is a point, a comma within quotes parts thousands
        (["1,250", "980"], ["4.125"], ",", [1250, 980]),
        (["1,250"], ["4.125"], ",", [1250]),
        (["1,250", "980,5"], ["4"], ",", [1.25, 980.5]),
        # the column tells, by a figure that can be read in one way
        (["1.250", "980,5"], ["4"], ";", [1250, 980.5]),
        (["1,250", "980.5"], ["4"], ";", [1250, 980.5]),
        (["1.250,5", "1.300"], ["4"], ";", [1250.5, 1300]),
        # or by its size beside the others
        (["1.250", "980", "1100"], ["4"], ";", [1250, 980, 1100]),
        # or another column of the table
        (["1.250"], ["4,5"], ";", [1250]),
        (["1,250"], ["4.5"], ";", [1250]),
        # what shows its sign by itself is read by that, whatever the others do
        (["12.5", "980,5"], ["4"], ";", [12.5, 980.5]),
    ],
)
def test_thousands_are_told_by_the_column(ppfs, weights, delimiter, expected):
    read = tabled(ppfs, weights, delimiter)
    assert read.troubles == ()
    assert [record["ppf_umol_s"] for record in read.records] == expected


@pytest.mark.parametrize("written", ["1,250", "1.250"])
def test_what_could_be_two_figures_is_asked_and_the_advice_works(written):
    read = tabled([written], delimiter=";")
    assert read.records == ()
    assert [(t.row, t.column) for t in read.troubles] == [(2, "ppf_umol_s")]
    assert "can be 1250 or 1.25" in worded(read.troubles[0].said)
    assert tabled(["1250"], delimiter=";").records[0]["ppf_umol_s"] == 1250
    assert tabled([f"{written}0"], delimiter=";").records[0]["ppf_umol_s"] == 1.25


@settings(deadline=None, max_examples=60)
@given(
    st.lists(st.floats(20, 4000).map(lambda n: round(n, 3)), min_size=1, max_size=6),
    st.sampled_from([("{:,.1f}", ","), ("{:.3f}", ","), ("{:.2f}", ";")]),
)
def test_figures_written_by_one_habit_come_back(ppfs, habit):
    pattern, delimiter = habit
    written = [pattern.format(ppf) for ppf in ppfs]
    found = [record["ppf_umol_s"] for record in tabled(written, delimiter=delimiter).records]
    assert found == [float(text.replace(",", "")) for text in written]


def test_a_cell_is_never_a_formula():
    record = read_shelf_csv(GOOD + LINE).records[0] | {"name": "=1+1", "note": "@here"}
    written = write_shelf_csv([record])
    assert "'=1+1" in written
    assert read_shelf_csv(written).records[0]["name"] == "=1+1"


@pytest.mark.parametrize("cell", ["[" * 5000, "{broken", '"text"', '{""emitters"": NaN}'])
def test_a_layout_cell_that_is_none_is_told_like_any_other(cell):
    header = GOOD.replace("board_x_cm,board_y_cm", "layout,note")
    quoted = cell.replace('"', '""').replace('""""', '""')
    read = read_shelf_csv(header + LINE.replace("26,22", f'"{quoted}",x'))
    assert [(t.row, t.column) for t in read.troubles] == [(2, "layout")]


@pytest.mark.parametrize("text", ["", "\n\n", "a,b\n1,2\n", "name,name,ppf_umol_s\nx,y,1\n"])
def test_tables_without_a_header_to_use(text):
    with pytest.raises(CanopyError):
        read_shelf_csv(text)


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04 broken", b"name,ppf_umol_s"])
def test_workbooks_that_are_none(content):
    with pytest.raises(CanopyError, match="XLSX"):
        read_shelf_xlsx(content)


def test_every_column_is_written_once():
    assert len(set(COLUMNS)) == len(COLUMNS)
