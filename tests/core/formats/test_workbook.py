"""Workbooks of one sheet, and map tables as such: read back by openpyxl and by our own reader."""

import io

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook

from canopy.errors import CanopyError
from canopy.formats.maptable import MapTable, map_sheet_text, read_map_table, write_map_sheet
from canopy.formats.workbook import FORMULA_STARTS, first_sheet, one_sheet
from tests.core.formats.test_maptable import reading, words


@settings(max_examples=30, deadline=None)
@given(st.lists(st.lists(st.text("=+-@ab1", max_size=4) | st.floats(0, 9), max_size=3), max_size=5))
def test_no_cell_is_a_formula_to_openpyxl(rows):
    sheet = load_workbook(io.BytesIO(one_sheet("T", [["head"], *rows]))).active
    for row in sheet.iter_rows():
        for cell in row:
            assert cell.data_type != "f"
            assert not (isinstance(cell.value, str) and cell.value.startswith(FORMULA_STARTS))


@settings(max_examples=25, deadline=None)
@given(st.lists(reading, min_size=1, max_size=6), st.dictionaries(st.just("lamp"), words))
def test_a_map_comes_back_from_a_workbook(readings, about):
    table = MapTable(tuple(readings), about)
    found = read_map_table(map_sheet_text(write_map_sheet(table)))
    for mine, theirs in zip(found.readings, readings, strict=True):
        assert mine.x_cm == pytest.approx(theirs.x_cm, rel=1e-12, abs=1e-12)
        assert mine.ppfd_umol_m2_s == pytest.approx(theirs.ppfd_umol_m2_s, rel=1e-12, abs=1e-12)
        assert (mine.dial_pct is None) == (theirs.dial_pct is None)


def test_what_is_no_workbook_is_refused_at_its_field():
    with pytest.raises(CanopyError, match="no XLSX workbook") as caught:
        first_sheet(b"PK\x03\x04", 10, 10, "content")
    assert caught.value.field == "content"


def test_rows_and_columns_beyond_the_most_are_left():
    content = one_sheet("T", [[1, 2, 3]] * 5)
    assert first_sheet(content, 2, 2, "content") == [[1, 2], [1, 2]]
