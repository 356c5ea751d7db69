"""The log as a table, read back by the standard library and a general reader of workbooks."""

import csv
from datetime import datetime
from io import BytesIO, StringIO

from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from canopy.formats.logtable import COLUMNS, FIGURES, LogLine, log_csv, log_xlsx

words = st.text(st.characters(codec="utf-8", exclude_categories=["Cc", "Cs"]), max_size=30)
lines = st.lists(
    st.builds(
        LogLine,
        st.datetimes(datetime(2020, 1, 1), datetime(2030, 1, 1)),
        st.integers(1, 400),
        st.sampled_from(["tops", "note"]),
        st.dictionaries(st.sampled_from(FIGURES), st.floats(0, 500), max_size=3),
        words,
    ),
    max_size=5,
)


@given(lines)
def test_every_entry_comes_back_with_its_figures_and_its_words(log):
    rows = list(csv.DictReader(StringIO(log_csv(log))))
    assert [row["date"] for row in rows] == [line.at.strftime("%Y-%m-%d") for line in log]
    for row, line in zip(rows, log):
        assert tuple(row) == COLUMNS
        assert {n: float(row[n]) for n in FIGURES if row[n]} == dict(line.values)
        assert row["words"].lstrip("'").strip() == line.words.lstrip("'").strip()


def test_nothing_is_a_formula_in_either():
    evil = LogLine(datetime(2026, 11, 27, 8, 5), 3, "note", {"where": "@here"}, "=1+1")
    row = next(iter(csv.DictReader(StringIO(log_csv([evil])))))
    assert (row["words"][0], row["where"][0], row["time"]) == ("'", "'", "08:05")
    sheet = load_workbook(BytesIO(log_xlsx([evil]))).active
    found = {cell.value: cell.data_type for cell in sheet[2]}
    assert "f" not in found.values()
    assert sheet.freeze_panes == "A2"
    assert [cell.value for cell in sheet[1]] == list(COLUMNS)
